import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useChangeKinds } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { Field, useRefused } from "../../shell/Field";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Kind = Schemas["Change"];

/** Log work on the machine: what it will make of which setups stands there before it is saved. */
export function ChangeDialog({ setupId, onClose }: { setupId: number; onClose: () => void }) {
  const kinds = useChangeKinds(setupId);
  const [kind, setKind] = useState<Kind>("extruder");
  const [note, setNote] = useState("");
  const [when, setWhen] = useState("");
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/changes", {
          params: { path: { setup_id: setupId }, header: writeHeaders() },
          body: { kind, note, happened_at: when ? new Date(when).toISOString() : null },
        }),
      ),
    onClose,
  );
  const form = useRefused(save.error);
  const chosen = kinds.data?.find((row) => row.kind === kind);
  const said = problemAt(save.error, "kind")?.message;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  return (
    <Modal title="Log a change of the machine" onClose={onClose}>
      <form ref={form} onSubmit={submit} className="space-y-3">
        <fieldset>
          <legend className="mb-1 text-body font-semibold">What was done</legend>
          {kinds.data?.map((row) => (
            <label key={row.kind} className="flex min-h-11 items-center gap-3 text-name">
              <input
                type="radio"
                name="kind"
                className="size-5"
                autoFocus={row.kind === kind}
                checked={row.kind === kind}
                onChange={() => setKind(row.kind)}
              />
              {row.name}
            </label>
          ))}
          {said && <p className="mt-1 text-care font-semibold text-out">{said}</p>}
        </fieldset>
        {chosen && (
          <div role="status" className="border-l-6 border-stale bg-well px-3 py-2">
            <p className="text-care font-semibold">{chosen.consequence}</p>
            <p className="text-body text-ink-2">On {chosen.setups.join("; ")}.</p>
          </div>
        )}
        <Field
          label="Note, if you like"
          value={note}
          onChange={setNote}
          problem={problemAt(save.error, "note")?.message}
        />
        <Field
          label="Done earlier? When (leave empty for now)"
          type="datetime-local"
          value={when}
          onChange={setWhen}
          problem={problemAt(save.error, "happened_at")?.message}
        />
        {save.error && save.error.fields.length === 0 && (
          <p role="alert" className="text-care font-semibold text-out">
            {save.error.detail}
          </p>
        )}
        <div className="flex gap-3">
          <button type="submit" className="button button-main" disabled={save.isPending}>
            Log it <KeyHint onBlue>Enter</KeyHint>
          </button>
          <button type="button" className="button" onClick={onClose}>
            Not now <KeyHint>Esc</KeyHint>
          </button>
        </div>
      </form>
    </Modal>
  );
}
