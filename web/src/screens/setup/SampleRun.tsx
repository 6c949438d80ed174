import type { Schemas } from "../../api/client";
import { GaugeStrip } from "../../instrument/GaugeStrip";

/** How a run ends, before there is one of one's own: what was read, what it says, what was done. */
export function SampleRun({ sample }: { sample: Schemas["SampleRunOut"] }) {
  return (
    <section aria-labelledby="sample" className="mt-8 border-t-2 border-ink pt-4">
      <h2 id="sample" className="text-cell">
        How a run ends: {sample.name.toLowerCase()} of another workshop
      </h2>
      <p className="mb-3 text-body text-ink-2">
        {sample.setup}; {sample.method}
      </p>
      <div className="bg-well px-3 py-3">
        <GaugeStrip strip={sample.strip} size="hero" />
      </div>
      <div className="mt-3 grid gap-x-8 gap-y-3 desk:grid-cols-[minmax(0,1fr)_16rem]">
        <div>
          <p className="text-verdict">{sample.title}</p>
          <p className="mt-1 text-reason">{sample.sentence}</p>
          <p className="text-reason text-ink-2">{sample.limited_by}</p>
          <p className="note mt-1">{sample.note}</p>
        </div>
        <ol aria-label="What was read, mm" className="text-body">
          {sample.readings.map((reading) => (
            <li key={reading.text} className="border-b border-rule py-1">
              {reading.struck ? <s>{reading.text}</s> : <strong>{reading.text}</strong>} {sample.strip.unit}
              {reading.struck && <span className="text-ink-2">, {reading.struck}</span>}
            </li>
          ))}
        </ol>
      </div>
    </section>
  );
}
