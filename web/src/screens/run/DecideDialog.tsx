import { useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = {
  run: Schemas["RunOut"];
  result: Schemas["ResultOut"];
  action: "apply" | "keep";
  onClose: () => void;
};

/** Apply or keep: one question whose default is Enter, with room for a note. */
export function DecideDialog({ run, result, action, onClose }: Props) {
  const [note, setNote] = useState("");
  const [version] = useState(run.version);
  const decide = useWrite(
    () =>
      answer(
        api.POST("/api/v1/runs/{run_id}/decision", {
          params: { path: { run_id: run.id }, header: writeHeaders(version) },
          body: { action, note, before_proof: action === "apply" && result.ask_before !== null },
        }),
      ),
    onClose,
  );
  const number = action === "apply" ? result.proposal : result.keep_text;
  const said =
    (problemAt(decide.error, "before_proof") ?? problemAt(decide.error, "note"))?.message ??
    decide.error?.detail;
  return (
    <Modal
      title={
        action === "apply" ? `Apply ${number} ${result.unit_text}?` : `Keep ${number} ${result.unit_text}?`
      }
      onClose={onClose}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          decide.mutate(undefined);
        }}
      >
        <p className="mb-3 text-reason">
          {action === "keep"
            ? "The record will say that this setting was checked today. No other number is written."
            : (result.ask_before ??
              `${result.sentence} It goes into the record; what to type in, and where, comes next.`)}
        </p>
        {result.less_known && <p className="mb-3 text-reason font-semibold">{result.less_known}</p>}
        <label className="mb-1 block text-body font-semibold" htmlFor="decision-note">
          Note, if you like
        </label>
        <textarea
          id="decision-note"
          className="field note mb-3 min-h-20 py-2"
          value={note}
          onChange={(event) => setNote(event.target.value)}
          maxLength={2000}
        />
        {said && (
          <p role="alert" className="mb-3 text-care font-semibold text-out">
            {said}
          </p>
        )}
        <div className="flex gap-3">
          <button type="submit" autoFocus className="button button-main" disabled={decide.isPending}>
            {action === "apply" ? `Apply ${number}` : `Keep ${number}`} <KeyHint onBlue>Enter</KeyHint>
          </button>
          <button type="button" className="button" onClick={onClose}>
            Not yet <KeyHint>Esc</KeyHint>
          </button>
        </div>
      </form>
    </Modal>
  );
}
