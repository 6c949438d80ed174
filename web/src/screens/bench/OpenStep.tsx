import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Figure } from "../../instrument/Figure";
import { GaugeStrip } from "../../instrument/GaugeStrip";
import { OriginGlyph, StandingGlyph } from "../../instrument/Glyph";
import { KeyHint } from "../../instrument/KeyHint";
import { Word } from "../../shell/Word";
import { WORD_COLOUR } from "./wordColour";

type Props = {
  step: Schemas["StepOut"];
  to: string;
  onType: (step: Schemas["StepOut"]["step"]) => void;
  onAssume: (what: Schemas["AssumeOut"]) => void;
  onReadBack: (() => void) | undefined;
};

/** The one open row of the chain: what is known, why it is next, what it takes, and the way in. */
export function OpenStep({ step, to, onType, onAssume, onReadBack }: Props) {
  const { assume } = step;
  const unread = step.unverified ? onReadBack : undefined;
  const measured = step.can_run && !step.type_first;
  const believed = ["fresh", "ageing", "check"].includes(step.standing);
  return (
    <section
      aria-label={step.name}
      className="border-y-2 border-l-6 border-y-ink border-l-mark bg-well px-3 py-2 desk:pr-6 desk:pl-4.5"
    >
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <span className="text-name font-[650] text-ink-2">{step.number}</span>
        <StandingGlyph standing={step.standing} unverified={step.unverified} />
        <h2 className="text-step leading-none font-bold">
          <Word of={step.step}>{step.name}</Word>
        </h2>
        {step.is_next && <NextPlate />}
        {step.can_run && (
          <span className="text-body text-ink-2">
            {step.minutes} min, {step.grams} g
          </span>
        )}
        {step.value && (
          <span className={`ml-auto ${believed ? "text-cell" : "text-body text-ink-2"}`}>
            <Figure
              text={step.value.text}
              halfWidth={step.value.half_width_text}
              unit={step.value.unit_text}
            />
          </span>
        )}
      </div>
      <div className={`mt-1 gap-x-4 ${step.strip ? "wide:grid wide:grid-cols-[1fr_17rem]" : ""}`}>
        <div className="min-w-0">
          <p className="text-reason leading-snug">
            <strong className={WORD_COLOUR[step.standing]}>
              <Word of={step.standing}>{step.standing_word}</Word>
            </strong>
            {step.cause && <>: {step.cause}</>}. {step.reason} {step.rests_on} {step.level}
          </p>
        </div>
        {step.strip && (
          <div className="mt-2 min-w-0 wide:mt-0">
            <p className="text-small font-semibold">{step.strip.title}</p>
            <GaugeStrip strip={step.strip} size="panel" />
          </div>
        )}
      </div>
      {step.value && <Provenance value={step.value} />}
      <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1">
        {unread && (
          <button type="button" className="button button-main" onClick={unread}>
            Read it back <KeyHint onBlue>Enter</KeyHint>
          </button>
        )}
        {step.can_run && (
          <Link to={to} className={`button ${measured && !unread ? "button-main" : ""}`}>
            {startWord(step)} {measured && !unread && <KeyHint onBlue>Enter</KeyHint>}
          </Link>
        )}
        <button
          type="button"
          className={`button ${measured || unread ? "" : "button-main"}`}
          onClick={() => onType(step.step)}
        >
          Type it in <KeyHint onBlue={!measured && !unread}>{measured || unread ? "T" : "Enter"}</KeyHint>
        </button>
        {assume && (
          <button type="button" className="button" onClick={() => onAssume(assume)}>
            {assume.label} <KeyHint>D</KeyHint>
          </button>
        )}
        <p className="min-w-0 flex-1 basis-48 text-care leading-tight">
          {step.care.length > 0 && (
            <>
              <strong className="text-stale">Care:</strong> <strong>{step.care.join(", ")}.</strong>{" "}
            </>
          )}
          {!step.can_run && (
            <span className="text-body text-ink-2">Not measured here yet: a typed value stays assumed.</span>
          )}
        </p>
      </div>
    </section>
  );
}

/** What the way into a run is called: going on, the next step, or doing it although something else is due first. */
function startWord(step: Schemas["StepOut"]): string {
  if (step.open_run_id) return `Go on with run ${step.open_run_id}`;
  if (step.value && ["fresh", "ageing", "check"].includes(step.standing)) return "Measure again";
  return step.is_next || step.rests_on === ""
    ? `Start ${step.name.charAt(0).toLowerCase()}${step.name.slice(1)} run`
    : "Do it anyway";
}

function NextPlate() {
  return (
    <span className="relative bg-press py-1 pr-3 pl-5 text-name font-semibold text-on-press [clip-path:polygon(14px_0,100%_0,100%_100%,14px_100%,0_50%)]">
      Next
    </span>
  );
}

function Provenance({ value }: { value: Schemas["ValueOut"] }) {
  return (
    <p className="text-body leading-5 text-ink-2" title={value.provenance.note}>
      <OriginGlyph origin={value.provenance.origin} /> {value.provenance.sentence}
      {value.provenance.instrument &&
        `, ${value.provenance.instrument}, by ${value.person}; set to ${value.setting}`}
      . {value.provenance.note && <span className="note">{value.provenance.note} </span>}
      {value.read_back.state !== "verified" && (
        <strong className="text-stale">{value.read_back.sentence}</strong>
      )}
    </p>
  );
}
