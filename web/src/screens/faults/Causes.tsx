import { useState } from "react";
import type { Schemas } from "../../api/client";

type Cause = Schemas["CauseOut"];

/** So many stand open with their reasons. */
const OPEN = 3;

/** Every cause on one scale of odds; a hollow mark shows where it stood before the last answer. */
export function Causes({ sheet }: { sheet: Schemas["FaultSheetOut"] }) {
  const near = sheet.causes.filter((row) => !row.aside);
  const aside = sheet.causes.filter((row) => row.aside);
  return (
    <section aria-label="Causes" className="px-3 py-3 desk:px-6">
      <div className="grid grid-cols-4 border-b border-ink pb-1 text-small text-ink-2">
        <span>set aside</span>
        <span>possible</span>
        <span>likely</span>
        <span className="text-right">most likely</span>
      </div>
      <ul>
        {near.map((row, place) => (
          <Row key={row.key} cause={row} open={place < OPEN} />
        ))}
      </ul>
      <details className="mt-2">
        <summary className="min-h-11 cursor-pointer py-2 text-body">Set aside: {aside.length} causes</summary>
        <p className="text-body text-ink-2">{aside.map((row) => row.name).join("; ")}.</p>
      </details>
    </section>
  );
}

function Row({ cause, open }: { cause: Cause; open: boolean }) {
  const [shown, setShown] = useState(false);
  return (
    <li className="border-b border-rule py-1.5">
      <button
        type="button"
        className="flex w-full cursor-pointer items-baseline justify-between gap-4 text-left"
        aria-expanded={open || shown}
        onClick={() => setShown(!shown)}
      >
        <span className="text-name font-[650]">{cause.name}</span>
        <span className="text-body text-ink-2">
          {cause.field}, {cause.tenths}
        </span>
      </button>
      <svg viewBox="0 0 100 10" preserveAspectRatio="none" className="my-1 h-4 w-full" aria-hidden="true">
        <path d="M0 5H100" className="stroke-rule" strokeWidth="1" vectorEffect="non-scaling-stroke" />
        {[25, 50, 75].map((at) => (
          <path
            key={at}
            d={`M${at} 2V8`}
            className="stroke-edge"
            strokeWidth="1"
            vectorEffect="non-scaling-stroke"
          />
        ))}
        {cause.place_before !== null && (
          <path
            d={`M${100 * cause.place_before} 1V9`}
            className="stroke-edge"
            strokeWidth="2"
            strokeDasharray="2 2"
            vectorEffect="non-scaling-stroke"
          />
        )}
        <path
          d={`M${100 * cause.place} 0V10`}
          className="stroke-ink"
          strokeWidth="5"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      {(open || shown) && cause.because && <p className="text-body text-ink-2">{cause.because}</p>}
    </li>
  );
}
