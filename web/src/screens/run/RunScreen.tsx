import { useState } from "react";
import { useParams } from "react-router";
import { useRun } from "../../api/queries";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { TowerRun } from "../tower/TowerRun";
import { EndedRun } from "./EndedRun";
import { OpenRun } from "./OpenRun";

/** A run: measuring while it is open, what to do at the machine once it is decided. */
export function RunScreen() {
  const runId = Number(useParams().runId);
  const [early, setEarly] = useState(false);
  const run = useRun(runId, early);
  if (!run.data) {
    return (
      <Page tab="Runs" keys={[]} back="/runs">
        {run.isError ? <Trouble error={run.error} onAgain={() => run.refetch()} /> : <Waiting />}
      </Page>
    );
  }
  const { state, body, entry } = run.data;
  if (state !== "open") return <EndedRun key={runId} run={run.data} />;
  if (body.kind === "rated" && entry === null)
    return <TowerRun key={runId} run={run.data} tower={body.tower} />;
  return <OpenRun key={runId} run={run.data} onEarly={() => setEarly(true)} />;
}
