import { useState } from "react";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { WordDrawing } from "../../instrument/WordDrawing";
import { useWait } from "../../shell/useWait";
import { useWrite } from "../../shell/useWrite";

type Props = { runId: number; live: Schemas["LiveOut"]; first: boolean };

/** Steps while the pad prints: how far the offset was moved so far, and when the line under the nozzle is the new one. */
export function LiveOffset({ runId, live, first }: Props) {
  const [by, setBy] = useState(live.usual);
  const [wasMoved] = useState(live.moved > 0);
  const [left, wait] = useWait(`run.${runId}.pad`);
  const move = useWrite(
    (step: string | null) =>
      answer(
        api.POST("/api/v1/runs/{run_id}/ticks", {
          params: { path: { run_id: runId }, header: writeHeaders() },
          body: { by: step },
        }),
      ),
    () => wait(live.wait_s),
  );
  const keep = useWrite(() =>
    answer(
      api.POST("/api/v1/runs/{run_id}/offsets-by-eye", {
        params: { path: { run_id: runId }, header: writeHeaders() },
      }),
    ),
  );
  return (
    <details className="mb-2 border-b border-rule pb-2" open={first || wasMoved}>
      <summary className="min-h-8 cursor-pointer text-name font-[650]">First the pad, by eye</summary>
      <WordDrawing drawing="first_lines" />
      <p className="text-body">
        Move the machine&apos;s offset by one step, press the same here, wait. Lines that lie apart: lower.
        Ridges, or a scraping nozzle: higher, at once.
      </p>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <button type="button" className="button" onClick={() => move.mutate(`-${by}`)}>
          Lower
        </button>
        <button type="button" className="button" onClick={() => move.mutate(by)}>
          Higher
        </button>
        <button
          type="button"
          className="link min-h-11 text-body"
          disabled={live.moved === 0}
          onClick={() => move.mutate(null)}
        >
          Take back
        </button>
        <label className="flex items-center gap-2 text-body">
          by
          <select className="field w-34" value={by} onChange={(event) => setBy(event.target.value)}>
            {live.steps.map((step) => (
              <option key={step.value} value={step.value}>
                {step.text}
              </option>
            ))}
          </select>
        </label>
      </div>
      <p className="mt-2 text-reason" role="status">
        {live.moved} {live.moved === 1 ? "step" : "steps"}, offset now <strong>{live.now}</strong>.{" "}
        {left !== null && left > 0
          ? `Wait ${left} s: the line under the nozzle is still the old one.`
          : "Look at the line now."}
      </p>
      {move.error && (
        <p role="alert" className="text-care font-semibold text-out">
          {move.error.detail}
        </p>
      )}
      <p className="text-small text-ink-2">
        Even and closed, with faint lines you can just feel: stop. Then keep that offset: the patches are
        printed with it, and say how far it is off.
      </p>
      <button
        type="button"
        className="button mt-1"
        disabled={live.moved === 0 || keep.isPending}
        onClick={() => keep.mutate(undefined)}
      >
        Take {live.now} over
      </button>
      {keep.error && (
        <p role="alert" className="text-care font-semibold text-out">
          {keep.error.detail}
        </p>
      )}
    </details>
  );
}
