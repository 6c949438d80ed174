import { Link } from "react-router";
import type { Schemas } from "../../api/client";

type Props = {
  remedy: Schemas["RemedyOut"];
  setupId: number;
  onResult: (result: "gone" | "better" | "no change") => void;
  onLook?: () => void;
};

const RESULTS = [
  ["gone", "Gone"],
  ["better", "Better"],
  ["no change", "No change"],
] as const;

/** What to try: how long, what it makes stale, what must be seen; then whether it helped. */
export function Mend({ remedy, setupId, onResult, onLook }: Props) {
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
      {remedy.stale.length > 0 && (
        <p className="mt-2 text-body">
          It makes to be looked at again: {remedy.stale.join(", ")}. Log it on the{" "}
          <Link className="link" to={`/?setup=${setupId}`}>
            bench
          </Link>{" "}
          with <strong>C</strong>.
        </p>
      )}
      <p className="mt-2 text-reason">{remedy.seen}</p>
      <h3 className="mt-4 text-name">Did it help?</h3>
      {RESULTS.map(([result, text]) => (
        <button
          key={result}
          type="button"
          className="mb-2 flex min-h-15 w-full cursor-pointer items-center rounded-control border border-edge bg-sheet px-4 text-left text-name font-semibold"
          onClick={() => onResult(result)}
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
