import type { Schemas } from "../../api/client";
import { PiecePlan } from "../../instrument/PiecePlan";
import { LiveOffset } from "./LiveOffset";
import { MethodDrawing } from "./MethodDrawing";
import { PieceFile } from "./PieceFile";

/** How it goes, and what to mind, beside the entry. */
export function MethodPanel({ run }: { run: Schemas["RunOut"] }) {
  return (
    <section
      aria-label="How it goes"
      className="order-4 min-w-0 border-rule desk:border-r px-3 py-3 desk:order-none desk:overflow-y-auto desk:px-5"
    >
      {(run.file_name || run.sliced) && <PieceFile run={run} />}
      {run.piece && <PiecePlan piece={run.piece} small />}
      {run.step === "e_steps" && <MethodDrawing method={run.method as Schemas["Method"]} />}
      {run.step === "z_offset" && <LiveOffset runId={run.id} offset={run.entry.current} />}
      <ol className="mt-2 list-decimal space-y-0.5 pl-5 text-body">
        {run.procedure.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ol>
      <details className="mt-3">
        <summary className="min-h-8 cursor-pointer text-care font-semibold text-stale">Cautions</summary>
        <ul className="space-y-1">
          {run.cautions.map((caution) => (
            <li key={caution.lead} className="text-care leading-snug">
              <strong>{caution.lead}</strong> {caution.text}
            </li>
          ))}
        </ul>
      </details>
    </section>
  );
}
