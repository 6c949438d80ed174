import { useEffect, useState } from "react";
import { readStored, store } from "../../api/storage";

const STEPS = [0.01, 0.02, 0.05] as const;
const WAIT_S = 12;

type Props = { runId: number; offset: number };

/** Ticks while the pad prints: how far the offset was moved so far, and when the line under the nozzle is the new one. */
export function LiveOffset({ runId, offset }: Props) {
  const [step, setStep] = useState<number>(0.02);
  const place = `ubrex.steps.${runId}`;
  const [ticks, setTicks] = useState<readonly number[]>(() => kept(place));
  const [wasMoved] = useState(ticks.length > 0);
  const [left, setLeft] = useState(0);
  useEffect(() => {
    if (left <= 0) return;
    const timer = setTimeout(() => setLeft(left - 1), 1000);
    return () => clearTimeout(timer);
  }, [left]);
  const moved = ticks.reduce((sum, tick) => sum + tick, 0);
  // A machine that was moved stays moved when the page is loaded anew: so do its steps.
  const keep = (steps: readonly number[]) => {
    setTicks(steps);
    store(place, steps.length > 0 ? JSON.stringify(steps) : null);
  };
  const tick = (by: number) => {
    keep([...ticks, by]);
    setLeft(WAIT_S);
  };
  const shown = (value: number) => value.toFixed(3).replace("-", "−");
  return (
    <details className="mt-3 border-t border-rule pt-2" open={wasMoved}>
      <summary className="min-h-11 cursor-pointer text-name font-[650]">While the pad prints</summary>
      <p className="text-body">
        Move the machine&apos;s offset by one step, press the same here, wait. Lines that lie apart: lower.
        Ridges, or a scraping nozzle: higher, at once.
      </p>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <button type="button" className="button" onClick={() => tick(-step)}>
          Lower
        </button>
        <button type="button" className="button" onClick={() => tick(step)}>
          Higher
        </button>
        <button
          type="button"
          className="link min-h-11 text-body"
          disabled={ticks.length === 0}
          onClick={() => keep(ticks.slice(0, -1))}
        >
          Take back
        </button>
        <label className="flex items-center gap-2 text-body">
          by
          <select
            className="field w-28"
            value={step}
            onChange={(event) => setStep(Number(event.target.value))}
          >
            {STEPS.map((one) => (
              <option key={one} value={one}>
                {one} mm
              </option>
            ))}
          </select>
        </label>
      </div>
      <p className="mt-2 text-reason" role="status">
        {ticks.length} {ticks.length === 1 ? "step" : "steps"}, offset now{" "}
        <strong>{shown(offset + moved)} mm</strong>.{" "}
        {left > 0
          ? `Wait ${left} s: the line under the nozzle is still the old one.`
          : "Look at the line now."}
      </p>
      <p className="text-small text-ink-2">
        Even and closed, with faint lines you can just feel: stop. Type that offset in on the bench, or start
        the patches with it.
      </p>
    </details>
  );
}

/** Steps of a run that this browser kept; none where they cannot be read. */
function kept(place: string): number[] {
  try {
    const steps: unknown = JSON.parse(readStored(place) ?? "[]");
    return Array.isArray(steps) ? steps.filter((step) => typeof step === "number") : [];
  } catch {
    return [];
  }
}
