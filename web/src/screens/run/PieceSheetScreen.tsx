import { useParams } from "react-router";
import { useMethod, useRun } from "../../api/queries";
import { PiecePlan } from "../../instrument/PiecePlan";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { TowerSheet } from "../tower/TowerSheet";

/** The run sheet of a piece, A4: seen from above, a box for every place, so that measuring can be done on paper. */
export function PieceSheetScreen() {
  const runId = Number(useParams().runId);
  const run = useRun(runId, false);
  const method = useMethod(runId);
  const piece = method.data?.piece;
  const spots = run.data?.entry?.spots ?? [];
  const several = new Set(spots.map((spot) => spot.group)).size > 1;
  const rated = run.data?.body.kind === "rated" && run.data.entry === null ? run.data.body.tower : null;
  return (
    <Page
      tab="Runs"
      name="Run sheet"
      keys={[{ key: "P", label: "print", run: () => window.print() }]}
      back="/runs"
    >
      {run.isPending && <Waiting />}
      {run.isError && <Trouble error={run.error} onAgain={() => run.refetch()} />}
      {run.data && method.data && piece && (
        <article aria-label="Run sheet" className="paper max-w-200 px-3 py-3 desk:px-6">
          <h1 className="text-verdict font-bold">
            Run {run.data.id}, {run.data.name.toLowerCase()} on paper
          </h1>
          <p className="mb-2 border-b-2 border-ink pb-1 text-body">
            {run.data.setup.title}; {run.data.cells.map((cell) => `${cell.label} ${cell.value}`).join(", ")}
          </p>
          <div className="grid grid-cols-2 gap-4">
            <PiecePlan piece={piece} spots={spots} small />
            <ol className="list-decimal space-y-1 pl-5 text-body">
              {method.data.procedure.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ol>
          </div>
          <p className="mt-2 text-body">
            {rated ? "Rated by" : `Read ${run.data.entry?.unit} with`}: ____________________{" "}
            {!rated && "Zero checked: ____ "}Day: __________
          </p>
          {rated && <TowerSheet tower={rated} />}
          <div className="mt-2 grid grid-cols-4 gap-2">
            {spots.map((place) => (
              <div
                key={`${place.group}${place.name}`}
                className={`h-14 border-ink p-1 text-small ${place.state === "later" ? "border" : "border-2"}`}
              >
                {place.name}
                {several && `, ${place.group}`}
              </div>
            ))}
          </div>
          <ul className="mt-3 space-y-1 text-care">
            {method.data.cautions.map((caution) => (
              <li key={caution.lead}>
                <strong>{caution.lead}</strong> {caution.text}
              </li>
            ))}
          </ul>
        </article>
      )}
      <div className="no-print px-3 pb-4 desk:px-6">
        <button type="button" className="button" onClick={() => window.print()}>
          Print
        </button>
      </div>
    </Page>
  );
}
