import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

/** Readings from paper, a spreadsheet column or a CSV file: all in one go, in walking order. */
export function PasteDialog({ run, onClose }: { run: Schemas["RunOut"]; onClose: () => void }) {
  const [text, setText] = useState("");
  const [asTyped, setAsTyped] = useState<string | null>(null);
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/runs/{run_id}/reading-lists", {
          params: { path: { run_id: run.id }, header: writeHeaders() },
          body: {
            text,
            taken_at: new Date().toISOString(),
            as_typed: asTyped as Schemas["ReadingListIn"]["as_typed"],
          },
        }),
      ),
    onClose,
  );
  const form = useRefused(save.error);
  const problem = problemAt(save.error, "text");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  return (
    <Modal title="Readings from paper or a list" onClose={onClose}>
      <form ref={form} onSubmit={submit} className="space-y-3">
        <label className="block text-body">
          <span className="mb-1 block font-semibold">
            One a line, from {run.entry?.reads || "the first"} on
          </span>
          <textarea
            autoFocus
            className="field min-h-48 py-2"
            value={text}
            aria-invalid={problem !== undefined}
            onChange={(event) => {
              setText(event.target.value);
              setAsTyped(null);
            }}
          />
          {problem && <span className="mt-1 block text-care font-semibold text-out">{problem.message}</span>}
        </label>
        <label className="button cursor-pointer focus-within:outline-3 focus-within:outline-mark">
          From a file
          <input
            type="file"
            className="sr-only"
            onChange={async (event) => {
              const [file] = event.target.files ?? [];
              if (file) setText(await file.slice(0, 200_000).text());
            }}
          />
        </label>
        {problem?.confirmable && (
          <button type="submit" className="button" onClick={() => setAsTyped(problem.code)}>
            It is right as it stands
          </button>
        )}
        <FormFoot label="Take them" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
