import { useState } from "react";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { Field } from "../../shell/Field";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";
import { ValueLines } from "./ValueLines";

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
  const taken = history.go_back.filter((line) => line.action !== "leave");
  const none = taken.length === 0;
  return (
    <Modal title={`Go back to revision ${to}?`} onClose={onClose} wide>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          restore.mutate(undefined);
        }}
        className="space-y-3"
      >
        <p className="text-reason">
          {none && history.go_back.length > 0 && "Nothing of what differs may be set here any more."}
          {history.go_back.length === 0 &&
            "What is set now is what was set then: there is nothing to go back to."}
          {!none &&
            "What differs from now is written anew, as the newest; what is set now stays in the record."}
          {history.then && ` ${history.then}`}
        </p>
        {history.go_back.length > 0 && <ValueLines lines={history.go_back} />}
        {!none && (
          <Field
            label="Why"
            value={note}
            onChange={setNote}
            hint="A line for whoever reads this in a year."
          />
        )}
        {restore.error && (
          <p role="alert" className="text-care font-semibold text-out">
            {restore.error.fields[0]?.message ?? restore.error.detail}
          </p>
        )}
        <div className="flex gap-3">
          {!none && (
            <button type="submit" autoFocus className="button button-main" disabled={restore.isPending}>
              Go back to {to} <KeyHint onBlue>Enter</KeyHint>
            </button>
          )}
          <button type="button" autoFocus={none} className="button" onClick={onClose}>
            Cancel
          </button>
        </div>
      </form>
    </Modal>
  );
}
