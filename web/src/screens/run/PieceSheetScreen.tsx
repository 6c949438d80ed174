import { useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useRun } from "../../api/queries";
import { PiecePlan } from "../../instrument/PiecePlan";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { TowerSheet } from "../tower/TowerSheet";

/** Places in the order in which they are measured: the first of every wall, then the second, then the third. */
function walked(places: readonly Schemas["PlaceOut"][]) {
  return [...places].sort((a, b) => Number(a.name.slice(1)) - Number(b.name.slice(1)));
}

/** The run sheet of a piece, A4: seen from above, a box for every place, so that measuring can be done on paper. */
export function PieceSheetScreen() {
  const run = useRun(Number(useParams().runId), false);
  const rated = run.data?.tower && run.data.tower.scales.length > 0 ? run.data.tower : null;
  return (
    <Page tab="Runs" keys={[{ key: "P", label: "print", run: () => window.print() }]} back="/runs">
      {run.isPending && <Waiting />}
      {run.isError && <Trouble error={run.error} onAgain={() => run.refetch()} />}
      {run.data?.piece && (
        <article aria-label="Run sheet" className="paper max-w-200 px-3 py-3 desk:px-6">
          <h1 className="text-verdict font-bold">
            Run {run.data.id}, {run.data.name.toLowerCase()} on paper
          </h1>
          <p className="mb-2 border-b-2 border-ink pb-1 text-body">
            {run.data.setup.title}; {run.data.cells.map((cell) => `${cell.label} ${cell.value}`).join(", ")}
          </p>
          <div className="grid grid-cols-2 gap-4">
            <PiecePlan piece={run.data.piece} small />
            <ol className="list-decimal space-y-1 pl-5 text-body">
              {run.data.procedure.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ol>
          </div>
          <p className="mt-2 text-body">
            {rated ? "Rated by" : `Read ${run.data.entry.unit} with`}: ____________________{" "}
            {!rated && "Zero checked: ____ "}Day: __________
          </p>
          {rated && <TowerSheet tower={rated} />}
          <div className="mt-2 grid grid-cols-4 gap-2">
            {walked(run.data.piece.places).map((place) => (
              <div
                key={`${place.group}${place.name}`}
                className={`h-14 border-ink p-1 text-small ${place.state === "later" ? "border" : "border-2"}`}
              >
                {place.name}
                {place.group !== "patch" && `, ${place.group}`}
              </div>
            ))}
          </div>
          <ul className="mt-3 space-y-1 text-care">
            {run.data.cautions.map((caution) => (
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
