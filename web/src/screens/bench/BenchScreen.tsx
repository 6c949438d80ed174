import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useBench } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { TitleBlock } from "../../instrument/TitleBlock";
import { dayOf } from "../../shell/dates";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { ChangeLine } from "./ChangeLine";
import { ChangeDialog, SetupPicker } from "./laterDialogs";
import { OpenStep } from "./OpenStep";
import { useSetupOnBench } from "./useSetupOnBench";

/** Where the setup on the bench stands, what is next, and why. */
export function BenchScreen({ first }: { first: number }) {
  const [setupId, putOnBench] = useSetupOnBench(first);
  const [picking, setPicking] = useState(false);
  const [logging, setLogging] = useState(false);
  const bench = useBench(setupId);
  const navigate = useNavigate();
  const step = bench.data?.steps[0];
  const start = step?.open_run_id ? `/runs/${step.open_run_id}` : `/setups/${setupId}/e-steps`;
  const gone = bench.data?.setup.removed ?? false;
  const edit = `/setups/${setupId}/edit`;
  const keys = [
    ...(step && !gone
      ? [{ key: "Enter", label: step.open_run_id ? "go on" : "start", run: () => navigate(start) }]
      : []),
    { key: "1", label: "other setup", run: () => setPicking(true) },
    ...(gone ? [] : [{ key: "2", label: "change this setup", run: () => navigate(edit) }]),
    ...(gone ? [] : [{ key: "C", label: "log a change", run: () => setLogging(true) }]),
    { key: "H", label: "history", run: () => navigate("/profiles") },
  ];
  return (
    <Page
      tab="Bench"
      keys={keys}
      title={
        bench.data && (
          <SetupBlock
            setup={bench.data.setup}
            onPick={() => setPicking(true)}
            onEdit={() => navigate(edit)}
          />
        )
      }
    >
      {bench.isError && !bench.data && (
        <Trouble
          error={bench.error}
          onAgain={() => (setupId === first ? bench.refetch() : putOnBench(first))}
        />
      )}
      {bench.isPending && <Waiting />}
      {bench.data && step && (
        <div className="flex min-h-0 flex-1 flex-col wide:flex-row">
          <div className="min-w-0 flex-1">
            <div className="flex items-baseline justify-between px-3 py-3 desk:px-6">
              <h1 className="text-cell">Calibration chain</h1>
              <span className="text-small text-ink-2">one step so far</span>
            </div>
            {gone ? (
              <p className="border-y-2 border-ink bg-well p-6 text-reason">
                This setup was removed from the workshop. Its record is kept under Profiles. Put another one
                on the bench.
              </p>
            ) : (
              <OpenStep step={step} cautions={bench.data.cautions} to={start} />
            )}
          </div>
          <Margin bench={bench.data} step={step} onLog={() => setLogging(true)} />
        </div>
      )}
      {logging && <ChangeDialog setupId={setupId} onClose={() => setLogging(false)} />}
      {picking && bench.data && (
        <SetupPicker
          setups={bench.data.setups}
          current={setupId}
          onClose={() => setPicking(false)}
          onChosen={(id) => {
            putOnBench(id);
            setPicking(false);
          }}
        />
      )}
    </Page>
  );
}

type BlockProps = { setup: Schemas["SetupOut"]; onPick: () => void; onEdit: () => void };

function SetupBlock({ setup, onPick, onEdit }: BlockProps) {
  return (
    <TitleBlock
      cells={[
        {
          label: "Machine",
          value: setup.machine,
          detail: setup.machine_detail,
          keyHint: "1",
          onPress: onPick,
        },
        { label: "Hotend", value: setup.hotend, detail: setup.hotend_detail, keyHint: "2", onPress: onEdit },
        { label: "Nozzle", value: setup.nozzle, detail: "bore in mm, material" },
        { label: "Filament", value: setup.filament, detail: setup.filament_detail, wide: true },
      ]}
    />
  );
}

type MarginProps = { bench: Schemas["BenchOut"]; step: Schemas["StepOut"]; onLog: () => void };

function Margin({ bench, step, onLog }: MarginProps) {
  const { recent, changes } = bench;
  const readBack = step.value?.read_back;
  return (
    <aside className="shrink-0 border-t-4 border-double border-ink px-3 py-3 desk:px-6 wide:w-72 wide:border-t-0 wide:border-l-4 wide:px-4">
      {readBack && readBack.state !== "verified" && step.value?.provenance.run_id && (
        <section className="mb-3 border-b border-rule pb-3">
          <h2 className="mb-1 text-name">Waiting</h2>
          <p className="mb-1 text-body">{readBack.sentence}</p>
          <Link className="link text-body" to={`/runs/${step.value.provenance.run_id}`}>
            Read it back
          </Link>
        </section>
      )}
      <section className="mb-3 border-b border-rule pb-3">
        <h2 className="mb-1 text-name">Changed on {bench.setup.machine}</h2>
        <ul>
          {changes.map((change) => (
            <ChangeLine key={change.id} change={change} />
          ))}
        </ul>
        {!bench.setup.removed && (
          <button type="button" className="button mt-2 w-full" onClick={onLog}>
            Log a change <KeyHint>C</KeyHint>
          </button>
        )}
      </section>
      <h2 className="mb-2 text-name">Done to this setup</h2>
      {recent.length === 0 && <p className="text-body text-ink-2">Nothing yet.</p>}
      <ul>
        {recent.map((run) => (
          <li key={run.id} className="border-b border-rule py-2 last:border-b-0">
            <Link to={`/runs/${run.id}`} className="block">
              <span className="block text-small text-ink-2">
                {dayOf(run.started_at)}, {run.person}, run {run.id}
              </span>
              <span className="link text-body">{run.outcome}</span>
            </Link>
          </li>
        ))}
      </ul>
    </aside>
  );
}
