import { useState } from "react";
import { useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useRun } from "../../api/queries";
import { TitleBlock } from "../../instrument/TitleBlock";
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
  const { tower } = run.data;
  if (run.data.state === "open" && tower && tower.scales.length > 0) {
    return <TowerRun key={runId} run={run.data} tower={tower} />;
  }
  if (run.data.state === "open") return <OpenRun key={runId} run={run.data} onEarly={() => setEarly(true)} />;
  return <EndedRun key={runId} run={run.data} />;
}

type TitleProps = { run: Schemas["RunOut"]; onInstrument?: () => void };

/** The title block of a run: what, how far, at which setting, with which tool. */
export function RunTitle({ run, onInstrument }: TitleProps) {
  const live = run.readings.filter((reading) => reading.struck === null).length;
  const asked = Math.max(run.entry.asked, live);
  return (
    <TitleBlock
      folded={`Run ${run.id}, ${run.name}: ${live} of ${asked} readings, ${run.instrument.name}`}
      cells={[
        { label: `Run ${run.id}, ${run.setup.machine}`, value: run.name, detail: run.method_name },
        ...run.cells,
        {
          label: "Tool",
          value: run.instrument.name,
          keyHint: onInstrument && "I",
          onPress: onInstrument,
          detail:
            run.instrument.kind === "eyes"
              ? run.instrument.detail
              : `${run.instrument.detail}, ${run.instrument.zero_checked ?? "zero not checked yet"}`,
        },
        {
          label: "Readings",
          value: `${live} of ${asked}`,
          detail: run.state === "open" ? "first asked for" : run.state,
        },
      ]}
    />
  );
}
