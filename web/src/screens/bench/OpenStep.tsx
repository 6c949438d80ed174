import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Figure } from "../../instrument/Figure";
import { GaugeStrip } from "../../instrument/GaugeStrip";
import { OriginGlyph, StandingGlyph } from "../../instrument/Glyph";
import { KeyHint } from "../../instrument/KeyHint";

type Props = { step: Schemas["StepOut"]; cautions: readonly Schemas["CautionOut"][]; to: string };

const WORD_COLOUR = {
  fresh: "text-asked",
  ageing: "text-ageing",
  assumed: "text-ink-2",
  never: "text-ink-2",
  check: "text-ageing",
  re_enter: "text-stale",
  stale: "text-stale",
} as const;

/** The one open row of the chain: what is known, why it is next, what it takes, and the way in. */
export function OpenStep({ step, cautions, to }: Props) {
  return (
    <section
      aria-label={step.name}
      className="border-y-2 border-l-6 border-y-ink border-l-mark bg-well px-3 py-4 desk:pr-6 desk:pl-4.5"
    >
      <div className="grid gap-x-8 gap-y-4 wide:grid-cols-[1fr_19.5rem]">
        <div className="min-w-0">
          <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
            <span className="text-name font-[650] text-ink-2">{step.number}</span>
            <StandingGlyph standing={step.standing} unverified={step.unverified} />
            <h2 className="text-step leading-none font-bold">{step.name}</h2>
            {step.is_next && <NextPlate />}
            {step.value && (
              <span className="ml-auto text-cell">
                <Figure
                  text={step.value.text}
                  halfWidth={step.value.half_width_text}
                  unit={step.value.unit_text}
                />
              </span>
            )}
          </div>
          <p className="mt-2 text-reason">
            <strong className={WORD_COLOUR[step.standing]}>{step.standing_word}</strong>
            {step.cause && <>: {step.cause}</>}. {step.next_sentence}
          </p>
          {step.value && <Provenance value={step.value} />}
          {step.strip && (
            <div className="mt-2 max-w-150">
              <p className="text-small text-ink-2">
                <strong className="text-ink">Fed length, mm</strong> at this setting
              </p>
              <GaugeStrip strip={step.strip} size="panel" />
            </div>
          )}
          <div className="mt-4 flex flex-wrap items-center gap-3">
            <Link to={to} className="button button-main">
              {step.open_run_id ? `Go on with run ${step.open_run_id}` : "Start e-steps run"}{" "}
              <KeyHint onBlue>Enter</KeyHint>
            </Link>
            <Link to="/profiles" className="button">
              History <KeyHint>H</KeyHint>
            </Link>
          </div>
        </div>
        <div className="min-w-0">
          <dl className="grid grid-cols-3 border border-ink">
            <Need name="Takes" value={String(step.minutes)} unit="min" />
            <Need name="Readings" value={String(step.readings)} unit="" />
            <Need name="Print" value="none" unit="" />
          </dl>
        </div>
        <div className="min-w-0 border-t border-rule pt-3 wide:col-span-2">
          <h3 className="mb-1 text-name text-stale">Before you start</h3>
          <ul className="gap-x-8 space-y-1.5 wide:columns-2">
            {cautions.map((caution) => (
              <li key={caution.lead} className="break-inside-avoid text-care leading-snug">
                <strong>{caution.lead}</strong> {caution.text}
              </li>
            ))}
          </ul>
        </div>
      </div>
    </section>
  );
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
    <p className="mt-1 text-body text-ink-2">
      <OriginGlyph origin={value.provenance.origin} /> {value.provenance.sentence},{" "}
      {value.provenance.instrument}, by {value.person}; set to {value.setting}.{" "}
      {value.read_back.state !== "verified" && (
        <strong className="text-stale">{value.read_back.sentence}</strong>
      )}
    </p>
  );
}

function Need({ name, value, unit }: { name: string; value: string; unit: string }) {
  return (
    <div className="border-r border-rule px-3 py-1.5 last:border-r-0">
      <dt className="text-small text-ink-2">{name}</dt>
      <dd className="text-cell font-[650]">
        {value} <span className="text-body font-normal text-ink-2">{unit}</span>
      </dd>
    </div>
  );
}
