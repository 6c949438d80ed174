import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { Choice, Field } from "../../shell/Field";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

/** Strike a reading out: which one, and why. It stays on record. */
export function StrikeDialog({ run, onClose }: { run: Schemas["RunOut"]; onClose: () => void }) {
  const live = run.readings.filter((reading) => reading.struck === null);
  const [readingId, setReadingId] = useState(String(live.at(-1)?.id ?? ""));
  const [reason, setReason] = useState("");
  const strike = useWrite(
    () =>
      answer(
        api.POST("/api/v1/runs/{run_id}/readings/{reading_id}/strike", {
          params: { path: { run_id: run.id, reading_id: Number(readingId) }, header: writeHeaders() },
          body: { reason },
        }),
      ),
    onClose,
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    strike.mutate(undefined);
  };
  return (
    <Modal title="Strike a reading out" onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <Choice
          label="Reading"
          value={readingId}
          onChange={setReadingId}
          options={live.map((reading) => ({
            value: String(reading.id),
            text: `${reading.place && `${reading.place}: `}${reading.text} ${run.entry?.unit ?? ""}`,
          }))}
        />
        <Field
          label="Why"
          value={reason}
          onChange={setReason}
          autoFocus
          problem={problemAt(strike.error, "reason")?.message ?? strike.error?.detail}
          hint="It stays on record, struck through, with this reason."
        />
        <div className="flex flex-wrap gap-2">
          {run.entry?.slips.map((text) => (
            <button
              key={text}
              type="button"
              className="button min-h-11 px-3 text-body"
              onClick={() => setReason(text)}
            >
              {text}
            </button>
          ))}
        </div>
        <div className="flex gap-3">
          <button type="submit" className="button button-main">
            Strike out <KeyHint onBlue>Enter</KeyHint>
          </button>
          <button type="button" className="button" onClick={onClose}>
            Cancel
          </button>
        </div>
      </form>
    </Modal>
  );
}
