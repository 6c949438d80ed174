import { type FormEvent, type KeyboardEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Preview = Schemas["ListPreviewOut"];
type Props = { run: Schemas["RunOut"]; onTaken: (ids: number[]) => void; onClose: () => void };

/** Readings from paper, a spreadsheet or a CSV file: shown where each would go, then taken all in one go. */
export function PasteDialog({ run, onTaken, onClose }: Props) {
  const [text, setText] = useState("");
  const [preview, setPreview] = useState<Preview | null>(null);
  const before = new Set(run.readings.map((reading) => reading.id));
  const params = { path: { run_id: run.id } };
  const body = (asTyped: string | null) => ({
    text,
    taken_at: new Date().toISOString(),
    as_typed: asTyped as Schemas["ReadingListIn"]["as_typed"],
  });
  const look = useWrite(
    () => answer(api.POST("/api/v1/runs/{run_id}/reading-list-previews", { params, body: body(null) })),
    setPreview,
  );
  const save = useWrite(
    (asTyped: string | null) =>
      answer(
        api.POST("/api/v1/runs/{run_id}/reading-lists", {
          params: { ...params, header: writeHeaders() },
          body: body(asTyped),
        }),
      ),
    (taken) => {
      onTaken(taken.readings.map((row) => row.id).filter((id) => !before.has(id)));
      onClose();
    },
  );
  const error = save.error ?? look.error;
  const form = useRefused(error);
  const problem = problemAt(error, "text");
  const odd = preview?.rows.some((row) => row.problem !== "") ?? false;
  const blocked = odd && !preview?.confirmable;
  const submit = (event?: FormEvent) => {
    event?.preventDefault();
    if (preview === null || blocked) look.mutate(undefined);
    else save.mutate(odd ? preview.code : null);
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    submit();
  };
  const change = (changed: string) => {
    setText(changed);
    setPreview(null);
    save.reset();
  };
  return (
    <Modal title="Readings from paper or a list" onClose={onClose}>
      <form ref={form} onSubmit={submit} className="space-y-3">
        <label className="block text-body">
          <span className="mb-1 block font-semibold">Readings, from {run.entry?.reads || "the first"}</span>
          <textarea
            autoFocus
            className="field min-h-36 py-2"
            value={text}
            aria-invalid={problem !== undefined}
            aria-describedby="list-hint"
            onChange={(event) => change(event.target.value)}
            onKeyDown={onKey}
          />
          <span id="list-hint" className="block text-small text-ink-2">
            Each number is a reading. A place before it, or above its column, says where it was read.
          </span>
          {problem && <span className="mt-1 block text-care font-semibold text-out">{problem.message}</span>}
        </label>
        <label className="button cursor-pointer focus-within:outline-3 focus-within:outline-mark">
          From a file
          <input
            type="file"
            className="sr-only"
            onChange={async (event) => {
              const [file] = event.target.files ?? [];
              if (file) change(await file.slice(0, 200_000).text());
            }}
          />
        </label>
        {preview && <PreviewTable preview={preview} />}
        <FormFoot
          label={
            preview === null
              ? "Show where they go"
              : blocked
                ? "Look again"
                : odd
                  ? "Take them as they stand"
                  : "Take them"
          }
          keyText="Ctrl Enter"
          pending={save.isPending || look.isPending}
          error={error}
          onClose={onClose}
        />
      </form>
    </Modal>
  );
}

function PreviewTable({ preview }: { preview: Preview }) {
  const placed = preview.rows.some((row) => row.place !== "");
  return (
    <div role="status" className="max-h-64 overflow-y-auto">
      <table className="w-full text-left">
        <caption className="mb-1 text-left text-name font-[650]">
          {preview.rows.length === 1 ? "One reading" : `${preview.rows.length} readings`}, not taken yet
        </caption>
        <thead className="border-b-2 border-ink text-small text-ink-2">
          <tr>
            {placed && (
              <th scope="col" className="w-28 font-normal">
                Place
              </th>
            )}
            <th scope="col" className="font-normal">
              Read
            </th>
            <th scope="col" className="w-16 font-normal">
              Line
            </th>
          </tr>
        </thead>
        <tbody>
          {preview.rows.map((row, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows are never moved, and two may be alike.
            <tr key={index} className="border-b border-rule align-top">
              {placed && <td className="py-1.5 text-body text-ink-2">{row.place}</td>}
              <td className="py-1 text-name font-semibold">
                {row.text}
                {row.problem && (
                  <span className="block text-care leading-tight font-semibold text-out">{row.problem}</span>
                )}
              </td>
              <td className="py-1.5 text-small text-ink-2">{row.line}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
