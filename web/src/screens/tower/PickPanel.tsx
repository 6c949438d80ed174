import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { VerdictGlyph } from "../../instrument/Glyph";
import { KeyHint } from "../../instrument/KeyHint";
import { keyOf } from "../run/actions";

type Props = {
  run: Schemas["RunOut"];
  tower: Schemas["TowerOut"];
  onApply: () => void;
  onKeep: () => void;
};

/** What the tower says: the value to set, what will do as well, why, and whether more ratings could change it. */
export function PickPanel({ run, tower, onApply, onKeep }: Props) {
  const { result } = run;
  if (!result) {
    return (
      <section aria-label="Verdict" className="px-5 py-4">
        <p className="text-verdict leading-tight font-bold">Rate the ends first</p>
        <p className="mt-1 text-reason text-ink-2">
          Of each criterion the top and the bottom band, then the middle; from there only those that are still
          in the race.
        </p>
      </section>
    );
  }
  return (
    <section aria-label="Verdict" className="px-5 pt-2 pb-1">
      {result.proposal && (
        <p
          className={`leading-none font-bold whitespace-nowrap ${result.recommended ? "text-mark" : "text-ink-3"}`}
          data-testid="proposal"
        >
          <span className="text-[60px]">{result.proposal}</span>{" "}
          <span className="text-cell">{result.unit_text}</span>{" "}
          <span className="text-body font-semibold">{result.half_width_text}</span>
        </p>
      )}
      <div role="status" data-testid="verdict" data-verdict={result.verdict}>
        <p className="mt-1 flex items-center gap-2 text-cell leading-tight font-bold">
          <VerdictGlyph verdict={result.verdict} /> {result.so_far && "So far: "}
          {result.title}
        </p>
        <p className="mt-1 text-body">{result.sentence}</p>
        <p className="mt-1 text-body font-semibold text-asked">{tower.left}</p>
      </div>
      <div className="mt-2 flex items-center gap-2">
        {result.can_apply && (
          <button
            type="button"
            className={`button min-h-11 px-3 ${result.recommended ? "button-main" : ""}`}
            onClick={onApply}
          >
            Apply {result.proposal} <KeyHint onBlue={result.recommended}>{keyOf("apply")}</KeyHint>
          </button>
        )}
        {result.can_keep && (
          <button
            type="button"
            className={`button min-h-11 px-3 ${result.verdict === "keep" ? "button-main" : ""}`}
            onClick={onKeep}
          >
            Keep {result.keep_text} <KeyHint onBlue={result.verdict === "keep"}>{keyOf("keep")}</KeyHint>
          </button>
        )}
      </div>
      <Further run={run} result={result} />
      <details className="text-small text-ink-2">
        <summary className="min-h-8 cursor-pointer">Why these bands, and what it holds for</summary>
        <p>{[...result.remarks, result.limited_by].join(" ")}</p>
      </details>
    </section>
  );
}

/** The tower that goes where a better one would lie: its start form, filled in. */
export function Further({ run, result }: { run: Schemas["RunOut"]; result: Schemas["ResultOut"] }) {
  if (Object.keys(result.next_run).length === 0) return null;
  const query = new URLSearchParams(result.next_run);
  return (
    <p className="text-body">
      <Link
        className="link inline-flex min-h-11 items-center"
        to={`/setups/${run.setup.id}/measure/${run.step}?${query}`}
      >
        The tower that goes there: {Object.values(result.next_run).join(" to ")} {result.unit_text}
      </Link>
      {run.state === "open" && (
        <span className="block text-small text-ink-2">Keep or leave this one first.</span>
      )}
    </p>
  );
}
