import { useState } from "react";
import { Link } from "react-router";
import { answer, api, isProblem } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { saveFile } from "../../shell/saveFile";

export type Shape = "json" | "csv" | "commands";

/** Fetch a profile in one shape and have the browser keep it as a file. */
export async function takeAlong(setupId: number, shape: Shape) {
  const file = await answer(
    api.GET("/api/v1/setups/{setup_id}/exports/{shape}", { params: { path: { setup_id: setupId, shape } } }),
  );
  saveFile(file.name, file.text);
}

const SHAPES = [
  { shape: "json", key: "J", text: "As a file for another Ubrex" },
  { shape: "csv", key: "V", text: "As a table (CSV)" },
  { shape: "commands", key: "G", text: "As lines for the machine" },
] as const;

type Props = { setupId: number; onImport: () => void; onCopy: () => void; onBeside: () => void };

/** The ways out of a profile, and in. */
export function TakeAlong({ setupId, onImport, onCopy, onBeside }: Props) {
  const [said, setSaid] = useState("");
  const take = (shape: Shape) => {
    takeAlong(setupId, shape).then(
      () => setSaid("Saved by this browser."),
      (error: unknown) => setSaid(isProblem(error) ? error.detail : "That did not work."),
    );
  };
  return (
    <section aria-label="Take along" className="mt-4 border-t border-rule pt-3">
      <Link
        className="link inline-flex min-h-11 items-center gap-2 text-body"
        to={`/setups/${setupId}/course`}
      >
        Over the year <KeyHint>Y</KeyHint>
      </Link>
      <h2 className="mb-1 text-name">Take along</h2>
      <ul className="text-body">
        <li>
          <Link className="link inline-flex min-h-11 items-center gap-2" to={`/setups/${setupId}/card`}>
            As a printed card <KeyHint>P</KeyHint>
          </Link>
        </li>
        {SHAPES.map((row) => (
          <li key={row.shape}>
            <button
              type="button"
              className="link inline-flex min-h-11 items-center gap-2"
              onClick={() => take(row.shape)}
            >
              {row.text} <KeyHint>{row.key}</KeyHint>
            </button>
          </li>
        ))}
      </ul>
      <p role="status" className="text-small text-ink-2">
        {said}
      </p>
      <h2 className="mt-2 mb-1 text-name">Bring in</h2>
      <button type="button" className="link block min-h-11 text-body" onClick={onImport}>
        From a file
      </button>
      <button type="button" className="link block min-h-11 text-body" onClick={onCopy}>
        From another setup
      </button>
      <button type="button" className="link block min-h-11 text-body" onClick={onBeside}>
        Side by side with another setup
      </button>
      <a className="link mt-2 flex min-h-11 items-center text-body text-ink-2" href="/api/v1/backup" download>
        Back the whole workshop up
      </a>
    </section>
  );
}
