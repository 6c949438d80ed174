import { useState } from "react";
import { answer, api, type Problem, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { Field } from "../../shell/Field";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";
import { OtherSetups } from "./OtherSetups";
import { ValueLines } from "./ValueLines";

type Source = { text: string; note: string } | { from_setup_id: number; note: string };
type Props = { setupId: number; from: "file" | "setup"; onClose: () => void };

/** Bring values in, from a file or another setup: what will be added, changed and left stands there first. */
export function BringInDialog({ setupId, from, onClose }: Props) {
  const [source, setSource] = useState<Source | null>(null);
  const preview = useWrite((given: Source) =>
    "text" in given
      ? answer(
          api.POST("/api/v1/setups/{setup_id}/import-previews", {
            params: { path: { setup_id: setupId } },
            body: given,
          }),
        )
      : answer(
          api.POST("/api/v1/setups/{setup_id}/copy-previews", {
            params: { path: { setup_id: setupId } },
            body: given,
          }),
        ),
  );
  const look = (given: Source) => {
    setSource(given);
    preview.mutate(given);
  };
  return (
    <Modal title="Bring values in" onClose={onClose} wide>
      {from === "file" && !preview.data && (
        <label className="block text-body font-semibold">
          A profile file of Ubrex
          <input
            type="file"
            accept=".json,application/json"
            className="field mt-1 py-2"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void file.text().then((text) => look({ text, note: "" }));
            }}
          />
        </label>
      )}
      {from === "setup" && !preview.data && (
        <OtherSetups setupId={setupId} onChosen={(id) => look({ from_setup_id: id, note: "" })} />
      )}
      <Refusal problem={preview.error} />
      {preview.data && source && (
        <Preview setupId={setupId} source={source} preview={preview.data} onClose={onClose} />
      )}
    </Modal>
  );
}

function Refusal({ problem }: { problem: Problem | null }) {
  if (!problem) return null;
  return (
    <p role="alert" className="mt-3 text-care font-semibold text-out">
      {problem.fields[0]?.message ?? problem.detail}
    </p>
  );
}

type PreviewProps = {
  setupId: number;
  source: Source;
  preview: Schemas["ImportPreviewOut"];
  onClose: () => void;
};

function Preview({ setupId, source, preview, onClose }: PreviewProps) {
  const [note, setNote] = useState("");
  const params = { path: { setup_id: setupId }, header: writeHeaders() };
  const write = useWrite(
    () =>
      "text" in source
        ? answer(api.POST("/api/v1/setups/{setup_id}/imports", { params, body: { ...source, note } }))
        : answer(api.POST("/api/v1/setups/{setup_id}/copies", { params, body: { ...source, note } })),
    onClose,
  );
  return (
    <>
      <p className="text-reason">
        From {preview.source}, onto <strong>{preview.onto}</strong>. Every value will say that it was copied,
        not measured.
      </p>
      {preview.warning && <p className="mt-1 text-care font-semibold text-stale">{preview.warning}</p>}
      <ValueLines lines={preview.lines} />
      {preview.asks && (
        <div className="mb-3">
          <Field
            label="Why, for what lies outside the usual here"
            value={note}
            onChange={setNote}
            problem={problemAt(write.error, "note")?.message}
          />
        </div>
      )}
      {!problemAt(write.error, "note") && <Refusal problem={write.error} />}
      <div className="flex gap-3">
        <button
          type="button"
          autoFocus
          className="button button-main"
          disabled={preview.count === 0 || write.isPending}
          onClick={() => write.mutate(undefined)}
        >
          Bring {preview.count} in <KeyHint onBlue>Enter</KeyHint>
        </button>
        <button type="button" className="button" onClick={onClose}>
          Not now <KeyHint>Esc</KeyHint>
        </button>
      </div>
    </>
  );
}
