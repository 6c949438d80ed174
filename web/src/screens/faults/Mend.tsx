import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";

type Props = {
  remedy: Schemas["RemedyOut"];
  setupId: number;
  onResult: (result: "gone" | "better" | "no change", writeDown: boolean) => void;
  onLook?: () => void;
};

const RESULTS = [
  ["gone", "Gone"],
  ["better", "Better"],
  ["no change", "No change"],
] as const;

/** What to try: how long, what it makes stale, what must be seen; then whether it helped. */
export function Mend({ remedy, setupId, onResult, onLook }: Props) {
  const [writing, setWriting] = useState(true);
  return (
    <section aria-label="Try this">
      <p className="text-small text-ink-2">
        Try this, {remedy.minutes} min{remedy.buys && `, needs a new ${remedy.buys}`}
      </p>
      <h2 className="text-cell">{remedy.do}</h2>
      {remedy.cautions.map((line) => (
        <p key={line} className="mt-1 text-care font-semibold text-stale">
          {line}
        </p>
      ))}
      {remedy.work && (
        <label className="mt-2 flex min-h-11 items-center gap-3 text-body">
          <input
            type="checkbox"
            className="size-5 shrink-0"
            checked={writing}
            onChange={(event) => setWriting(event.target.checked)}
          />
          <span>
            Write it down: {remedy.work}.
            {remedy.stale.length > 0 && ` Then to be looked at again: ${remedy.stale.join(", ")}.`}
          </span>
        </label>
      )}
      <p className="mt-2 text-reason">{remedy.seen}</p>
      {remedy.guide && (
        <Link className="button mt-3 w-full" to={`/setups/${setupId}/guides?guide=${remedy.guide}`}>
          Start the guide
        </Link>
      )}
      <h3 className="mt-4 text-name">Did it help?</h3>
      {RESULTS.map(([result, text]) => (
        <button
          key={result}
          type="button"
          className="mb-2 flex min-h-15 w-full cursor-pointer items-center rounded-control border border-edge bg-sheet px-4 text-left text-name font-semibold"
          onClick={() => onResult(result, writing && remedy.work !== "")}
        >
          {text}
        </button>
      ))}
      {onLook && (
        <button type="button" className="link min-h-11 text-body" onClick={onLook}>
          Look first
        </button>
      )}
    </section>
  );
}
