import { useSetups } from "../../api/queries";
import { Lookup } from "../../shell/Lookup";

type Props = { setupId: number; onChosen: (id: number) => void };

/** Look up a setup that is not the one on the screen. */
export function OtherSetups({ setupId, onChosen }: Props) {
  const setups = useSetups();
  return (
    <Lookup
      label="Find the other setup"
      hint="machine, nozzle or filament"
      none="No setup is called that."
      value={null}
      options={(setups.data ?? [])
        .filter((row) => row.id !== setupId)
        .map((row) => ({ value: row.id, text: row.title }))}
      onChosen={onChosen}
    />
  );
}
