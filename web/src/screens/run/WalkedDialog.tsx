import { type FormEvent, useState } from "react";
import { answer, api, editHeaders, type Schemas } from "../../api/client";
import { Choice } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = { run: Schemas["RunOut"]; rounds: readonly Schemas["OptionOut"][]; onClose: () => void };

/** Walls that were measured from another one on, or the other way round: what was read goes to where it was read. */
export function WalkedDialog({ run, rounds, onClose }: Props) {
  const [walked, setWalked] = useState(rounds[0]?.value ?? "");
  const save = useWrite(
    () =>
      answer(
        api.PATCH("/api/v1/runs/{run_id}", {
          params: { path: { run_id: run.id }, header: editHeaders(run.version) },
          body: { walked },
        }),
      ),
    onClose,
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  return (
    <Modal title="The walls were measured in another order" onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <p className="text-reason">
          What was read so far moves to the walls it was read at. Nothing is read again.
        </p>
        <Choice label="They were walked" autoFocus value={walked} onChange={setWalked} options={rounds} />
        <FormFoot label="Move them" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
