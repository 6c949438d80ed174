import type { Schemas } from "../../api/client";
import { VerdictGlyph } from "../../instrument/Glyph";
import { KeyHint } from "../../instrument/KeyHint";
import { Word } from "../../shell/Word";
import { type Doers, keyOf, WAYS } from "./actions";

type Props = { run: Schemas["RunOut"]; doers: Doers };

/** Answers to what the workshop asks instead of a verdict. */
const ANSWERS = ["old_box", "new_box"] as const;

/** The verdict: the value to set, one plain sentence, and the ways on. It never moves and never hides. */
export function VerdictBar({ run, doers }: Props) {
  const { result, actions } = run;
  if (!result) {
    const missing =
      (run.entry?.asked ?? 0) - run.readings.filter((reading) => reading.struck === null).length;
    return (
      <section
        aria-label="Verdict"
        className="flex min-h-16 flex-wrap items-center gap-x-6 gap-y-2 border-t-2 border-ink bg-well px-3 py-2 desk:min-h-31 desk:px-6"
      >
        <p className="min-w-0 flex-1 text-reason">
          <strong>{missing === 1 ? "One more reading" : `${missing} more readings`}, then the result.</strong>{" "}
          <span className="hidden desk:inline">
            Nothing is shown before, so that no hand leans towards a number.
          </span>
        </p>
        {actions.includes("early") && (
          <button type="button" className="button" onClick={doers.early}>
            {WAYS.early.button} <KeyHint>{keyOf("early")}</KeyHint>
          </button>
        )}
      </section>
    );
  }
  const columns = result.can_apply
    ? "desk:grid-cols-[auto_minmax(0,1fr)_auto]"
    : "desk:grid-cols-[minmax(0,1fr)_auto]";
  // Three below each other are lower, so that the field above keeps its height.
  const low = result.first ? "desk:min-h-10 desk:py-0" : "";
  const colour = result.recommended ? "text-mark" : "text-ink-3";
  return (
    <section
      aria-label="Verdict"
      className={`grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-3 border-t-2 border-ink bg-well px-3 py-2 desk:min-h-31 desk:gap-x-6 desk:px-6 desk:py-3 ${columns}`}
    >
      {result.can_apply && (
        <div className="min-w-0 whitespace-nowrap wide:w-86">
          <div className="truncate text-small text-ink-2">
            {result.recommended ? "To set" : result.so_far ? "So far" : "Best guess"}, {result.unit_text}
            {result.change && `; ${result.change}`}
          </div>
          <div className={`leading-none font-bold ${colour}`} data-testid="proposal">
            <span className="text-result-phone wide:text-result">{result.proposal}</span>{" "}
            <span className="text-cell font-semibold">
              <Word of="interval">{result.half_width_text}</Word>
            </span>
          </div>
        </div>
      )}
      <div
        className="order-last col-span-2 min-w-0 desk:order-none desk:col-span-1"
        role="status"
        data-testid="verdict"
        data-verdict={result.verdict}
      >
        <div
          className={`flex items-center gap-2 text-verdict leading-tight font-bold ${result.recommended ? "text-mark" : ""}`}
        >
          <VerdictGlyph verdict={result.verdict} /> {result.title}
        </div>
        <p className="text-reason">{result.sentence}</p>
        <p className="text-small text-ink-2">
          {[result.limited_by, ...result.remarks].filter(Boolean).join(" ")}
        </p>
      </div>
      <div
        className={`flex flex-col items-stretch gap-2 ${result.first ? "" : "desk:gap-3"} ${result.can_apply ? "" : "order-last max-desk:col-span-2 max-desk:mt-2"}`}
      >
        {result.can_apply && (
          <button
            type="button"
            className={`button max-desk:min-h-11 max-desk:px-3 max-desk:text-body ${low} ${result.recommended ? "button-main" : ""}`}
            onClick={doers.apply}
          >
            {result.verdict === "try" ? "Try" : "Apply"} {result.proposal}{" "}
            <KeyHint onBlue={result.recommended}>{keyOf("apply")}</KeyHint>
          </button>
        )}
        {result.can_keep && (
          <button
            type="button"
            className={`button max-desk:min-h-11 max-desk:px-3 max-desk:text-body ${low} ${result.verdict === "keep" ? "button-main" : ""}`}
            onClick={doers.keep}
          >
            Keep {result.keep_text} <KeyHint onBlue={result.verdict === "keep"}>{keyOf("keep")}</KeyHint>
          </button>
        )}
        {[...ANSWERS, ...(result.first ? [result.first] : [])]
          .filter((action) => actions.includes(action))
          .map((action) => (
            <button
              key={action}
              type="button"
              className={`button whitespace-nowrap max-desk:min-h-11 max-desk:px-3 max-desk:text-body ${low}`}
              onClick={doers[action]}
            >
              {WAYS[action].button} <KeyHint>{keyOf(action)}</KeyHint>
            </button>
          ))}
      </div>
    </section>
  );
}
