import { useState } from "react";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { Field } from "../../shell/Field";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = { history: Schemas["HistoryOut"]; to: number; onClose: () => void; onDone: () => void };

/** Go back to an earlier revision: it is written anew as the newest, nothing in between is lost. */
export function RestoreDialog({ history, to, onClose, onDone }: Props) {
  const [note, setNote] = useState("");
  const [newest] = useState(history.revisions[0]?.number ?? 0);
  const restore = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/restorations", {
          params: { path: { setup_id: history.setup.id }, header: writeHeaders(newest) },
          body: { number: to, note },
        }),
      ),
    onDone,
  );
  const value = history.differences[0]?.left;
  return (
    <Modal title={`Go back to revision ${to}?`} onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          restore.mutate(undefined);
        }}
        className="space-y-3"
      >
        <p className="text-reason">
          E-steps {value?.setting} {value?.unit_text} becomes the newest value of {history.setup.machine}, for
          every setup of that machine. Type it into the machine and read it back.
        </p>
        <Field label="Why" value={note} onChange={setNote} hint="A line for whoever reads this in a year." />
        {restore.error && (
          <p role="alert" className="text-care font-semibold text-out">
            {restore.error.detail}
          </p>
        )}
        <div className="flex gap-3">
          <button type="submit" autoFocus className="button button-main" disabled={restore.isPending}>
            Go back to {to} <KeyHint onBlue>Enter</KeyHint>
          </button>
          <button type="button" className="button" onClick={onClose}>
            Cancel
          </button>
        </div>
      </form>
    </Modal>
  );
}
