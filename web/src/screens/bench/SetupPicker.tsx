import { useSetups } from "../../api/queries";
import { Lookup } from "../../shell/Lookup";
import { Modal } from "../../shell/Modal";
import { Trouble, Waiting } from "../../shell/Trouble";

type Props = { current: number; onChosen: (id: number) => void; onClose: () => void };

/** Look a setup up by any part of its name and put it on the bench. */
export function SetupPicker({ current, onChosen, onClose }: Props) {
  const setups = useSetups();
  return (
    <Modal title="Put on the bench" onClose={onClose} wide>
      {setups.isError && <Trouble error={setups.error} onAgain={() => setups.refetch()} />}
      {setups.isPending && <Waiting />}
      {setups.data && (
        <Lookup
          label="Find a setup"
          hint="machine, nozzle or filament"
          none="No setup is called that."
          value={current}
          options={setups.data.map((row) => ({
            value: row.id,
            text: row.title,
            beside: row.id === current ? "on the bench" : "",
          }))}
          onChosen={onChosen}
        />
      )}
    </Modal>
  );
}
