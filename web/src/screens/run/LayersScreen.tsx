import { useParams } from "react-router";
import { useLayers, useMethod, useRun } from "../../api/queries";
import { LayerView } from "../../instrument/LayerView";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { PieceFile } from "./PieceFile";

/** The written file of a run, drawn layer by layer. */
export function LayersScreen() {
  const runId = Number(useParams().runId);
  const run = useRun(runId, false);
  const method = useMethod(runId);
  const layers = useLayers(runId);
  return (
    <Page tab="Runs" name="Layers" keys={[]} back={`/runs/${runId}`} aside={run.data?.setup.title}>
      <div className="min-h-0 flex-1 overflow-y-auto px-3 py-4 desk:px-6">
        <div className="mb-3 flex flex-wrap items-baseline gap-x-6">
          <h1 className="text-verdict">What will be printed</h1>
          {run.data && method.data && <PieceFile run={run.data} method={method.data} drawn />}
        </div>
        {layers.isError && <Trouble error={layers.error} onAgain={() => layers.refetch()} />}
        {layers.isPending && <Waiting />}
        {layers.data && <LayerView view={layers.data} marks={run.data?.entry?.spots} />}
      </div>
    </Page>
  );
}
