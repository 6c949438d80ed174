import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Figure } from "../../instrument/Figure";
import { GaugeStrip } from "../../instrument/GaugeStrip";
import { StandingGlyph } from "../../instrument/Glyph";
import { useAtLeast } from "../../instrument/width";
import { OpenStep } from "./OpenStep";
import { WORD_COLOUR } from "./wordColour";

/** What is longer stands alone, without the half-width that would push into the word beside it. */
const SHORT = 10;

/** Window [px] from which a row has room for its strip. */
const STRIPS_FROM = 1440;

type Row = Schemas["StepOut"];

type Props = {
  bench: Schemas["BenchOut"];
  open: string | null;
  onOpen: (step: Row["step"]) => void;
  onType: (step: Row["step"]) => void;
  onAssume: (what: Schemas["AssumeOut"]) => void;
  onReadBack: (() => void) | undefined;
  to: string;
};

/** The nine rows. Runs of fresh rows above the open one fold into a line. */
export function Chain({ bench, open, onOpen, onType, onAssume, onReadBack, to }: Props) {
  const [unfolded, setUnfolded] = useState(false);
  const strips = useAtLeast(STRIPS_FROM);
  const openAt = bench.steps.findIndex((row) => row.step === open);
  const foldable = bench.steps.slice(0, Math.max(openAt - 1, 0)).findIndex((row) => row.standing !== "fresh");
  const folded = unfolded ? 0 : foldable === -1 ? Math.max(openAt - 1, 0) : foldable;
  const shown = folded > 1 ? bench.steps.slice(folded) : bench.steps;
  return (
    <ol aria-label="Calibration chain">
      {folded > 1 && (
        <li>
          <button
            type="button"
            onClick={() => setUnfolded(true)}
            className="flex min-h-11 w-full cursor-pointer items-center gap-3 border-b border-rule px-3 text-left text-body desk:px-6"
          >
            <strong className="text-asked">Fresh:</strong>
            <span className="min-w-0 truncate">
              {bench.steps
                .slice(0, folded)
                .map((row) => row.name)
                .join(", ")}
            </span>
          </button>
        </li>
      )}
      {shown.map((row) => (
        <li key={row.step}>
          {row.step === open ? (
            <OpenStep step={row} to={to} onType={onType} onAssume={onAssume} onReadBack={onReadBack} />
          ) : (
            <ClosedRow row={row} strips={strips} onOpen={onOpen} />
          )}
        </li>
      ))}
    </ol>
  );
}

function ClosedRow({ row, strips, onOpen }: { row: Row; strips: boolean; onOpen: Props["onOpen"] }) {
  return (
    <button
      type="button"
      data-step={row.step}
      onClick={() => onOpen(row.step)}
      className="flex min-h-11 w-full cursor-pointer flex-wrap items-center gap-x-3 border-b border-rule px-3 py-1 text-left desk:flex-nowrap desk:px-6 wide:py-0"
    >
      <span className="w-4 shrink-0 text-name text-ink-2">{row.number}</span>
      <StandingGlyph standing={row.standing} unverified={row.unverified} />
      <span className="min-w-0 flex-1 text-name leading-5 font-semibold desk:w-54 desk:flex-none">
        {row.name}
      </span>
      <span className="shrink-0 text-right desk:w-43">
        {row.value && row.value.text.length > SHORT && <span className="text-body">{row.value.text}</span>}
        {row.value && row.value.text.length <= SHORT && (
          <Figure
            text={row.value.text}
            halfWidth={row.value.half_width_text}
            unit={row.value.unit_text}
            className="text-name"
          />
        )}
        {!row.value && <span className="text-ink-2">–</span>}
      </span>
      {strips && (
        <span className="w-40 shrink-0" aria-hidden="true">
          {row.strip && <GaugeStrip strip={row.strip} size="inline" />}
        </span>
      )}
      <span className="min-w-0 basis-full pl-7 text-body leading-5 desk:flex-1 desk:basis-0 desk:pl-0">
        <strong className={WORD_COLOUR[row.standing]}>{row.standing_word}</strong>
        {row.cause && <span className="text-ink-2">, {row.cause}</span>}
      </span>
    </button>
  );
}
