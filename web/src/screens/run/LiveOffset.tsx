import { useEffect, useState } from "react";

const STEPS = [0.01, 0.02, 0.05] as const;
const WAIT_S = 12;

type Props = { offset: number };

/** Ticks while the pad prints: how far the offset was moved so far, and when the line under the nozzle is the new one. */
export function LiveOffset({ offset }: Props) {
  const [step, setStep] = useState<number>(0.02);
  const [ticks, setTicks] = useState<readonly number[]>([]);
  const [left, setLeft] = useState(0);
  useEffect(() => {
    if (left <= 0) return;
    const timer = setTimeout(() => setLeft(left - 1), 1000);
    return () => clearTimeout(timer);
  }, [left]);
  const moved = ticks.reduce((sum, tick) => sum + tick, 0);
  const tick = (by: number) => {
    setTicks((before) => [...before, by]);
    setLeft(WAIT_S);
  };
  const shown = (value: number) => value.toFixed(3).replace("-", "−");
  return (
    <details className="mt-3 border-t border-rule pt-2">
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
          onClick={() => setTicks((before) => before.slice(0, -1))}
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
