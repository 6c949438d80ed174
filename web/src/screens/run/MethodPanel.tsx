import type { Schemas } from "../../api/client";
import { useMethod } from "../../api/queries";
import { PiecePlan } from "../../instrument/PiecePlan";
import { ScrollEnd } from "../../shell/ScrollEnd";
import { Trouble, Waiting } from "../../shell/Trouble";
import { LiveOffset } from "./LiveOffset";
import { MethodDrawing } from "./MethodDrawing";
import { PieceFile } from "./PieceFile";

type PanelProps = { run: Schemas["RunOut"]; spots: Schemas["PlaceOut"][]; onTaken: () => void };

/** How it goes, and what to mind, beside the entry. */
export function MethodPanel({ run, spots, onTaken }: PanelProps) {
  const method = useMethod(run.id);
  return (
    <section
      aria-label="How it goes"
      className="order-4 min-w-0 border-rule desk:border-r px-3 py-3 desk:order-none desk:overflow-y-auto desk:px-5"
    >
      {method.isPending && <Waiting />}
      {method.isError && <Trouble error={method.error} onAgain={() => method.refetch()} />}
      {method.data && <Method run={run} method={method.data} spots={spots} onTaken={onTaken} />}
    </section>
  );
}

type Props = PanelProps & { method: Schemas["MethodOut"] };

function Method({ run, method, spots, onTaken }: Props) {
  return (
    <>
      {method.live && <LiveOffset runId={run.id} live={method.live} first={run.readings.length === 0} />}
      <PieceFile run={run} method={method} onTaken={onTaken} />
      {method.piece && <PiecePlan piece={method.piece} spots={spots} small />}
      {method.drawing && <MethodDrawing drawing={method.drawing} />}
      <ol className="mt-2 list-decimal space-y-0.5 pl-5 text-body">
        {method.procedure.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ol>
      <details className="mt-3">
        <summary className="min-h-8 cursor-pointer text-care font-semibold text-stale">Cautions</summary>
        <ul className="space-y-1">
          {method.cautions.map((caution) => (
            <li key={caution.lead} className="text-care leading-snug">
              <strong>{caution.lead}</strong> {caution.text}
            </li>
          ))}
        </ul>
      </details>
      <ScrollEnd className="-bottom-3 bg-sheet desk:block" />
    </>
  );
}
