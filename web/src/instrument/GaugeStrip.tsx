import { useLayoutEffect, useRef } from "react";
import {
  type Interval,
  layoutStrip,
  type Measures,
  NAME_SIZE,
  type Range,
  type Strip,
  type StripSize,
  type Words,
} from "./strip";
import { useWidth } from "./width";

const INLINE_WIDTH = 160;

/** `width`: of an inline one [px], which knows its width beforehand. */
type Props = { strip: Strip; size: StripSize; width?: number };

/**
 * The gauge strip: above the datum what is asked, below it what was measured, in blue what is proposed.
 * Built anew from its data at every width; never scaled as a picture.
 */
export function GaugeStrip({ strip, size, width: inline = INLINE_WIDTH }: Props) {
  const [box, width] = useWidth(size === "inline" ? inline : 0);
  return (
    <div ref={box} className={size === "inline" ? "" : "w-full"}>
      {width > 0 && <Drawing strip={strip} size={size} width={width} />}
    </div>
  );
}

function Drawing({ strip, size, width }: Required<Props>) {
  const grown = useRef<Range>(undefined);
  const layout = layoutStrip(strip, size, width, size === "hero" ? grown.current : undefined);
  useLayoutEffect(() => {
    grown.current = layout.range ?? undefined;
  });
  const { measures: m, x0, x9, band, target, move, plate } = layout;
  const hollow = ["ageing", "check", "re_enter", "stale"].includes(strip.standing);
  const named = size === "hero" && x0 > 50;
  return (
    <svg
      className="strip block overflow-visible"
      width={width}
      height={m.height}
      viewBox={`0 0 ${width} ${m.height}`}
      role="img"
      aria-label={strip.sentence}
      data-strip={size}
    >
      {band && (
        <rect
          className="s-band"
          x={band.from}
          y={m.bandTop}
          width={band.to - band.from}
          height={m.datum - m.bandTop}
        />
      )}
      {band?.stopFrom && <Stop x={band.from} turn={1} m={m} />}
      {band?.stopTo && <Stop x={band.to} turn={-1} m={m} />}
      {layout.ticks.map((tick) => (
        <line
          key={tick.x}
          x1={tick.x}
          x2={tick.x}
          y1={m.datum}
          y2={m.datum - tick.length}
          strokeWidth={tick.major ? 1.5 : 1}
        />
      ))}
      {m.figures !== null &&
        layout.figures.map((figure) => (
          <text key={figure.x} x={figure.x} y={m.figures ?? 0} fontSize={m.figureSize} textAnchor="middle">
            {figure.text}
          </text>
        ))}
      <line
        className={strip.low === null ? "s-dash" : ""}
        x1={x0}
        x2={x9}
        y1={m.datum}
        y2={m.datum}
        strokeWidth={size === "inline" ? 1.5 : 2}
        data-part="datum"
      />
      {size === "inline" &&
        [x0, x9].map((x) => <line key={x} x1={x} x2={x} y1={m.datum - 3} y2={m.datum + 3} />)}
      {target && <Target x={target.x} text={target.text} m={m} size={size} />}
      {layout.readings.map((reading) => (
        <line
          key={reading.key}
          data-part="reading"
          x1={reading.x}
          x2={reading.x}
          y1={m.readingTop}
          y2={m.readingTop + m.readingLength + (reading.newest ? 4 : 0)}
          strokeWidth={hollow ? m.readingWidth * 0.6 : m.readingWidth}
          className={reading.newest ? "s-newest s-drop" : hollow ? "s-hollow" : ""}
        />
      ))}
      {layout.struck.map((struck) => (
        <g key={struck.x} data-part="struck">
          <line
            x1={struck.x}
            x2={struck.x}
            y1={m.readingTop}
            y2={m.readingTop + m.readingLength}
            strokeWidth={1}
          />
          <line
            className="s-strike"
            x1={struck.x - m.serif * 0.8}
            x2={struck.x + m.serif * 0.8}
            y1={m.readingTop + m.readingLength - 1}
            y2={m.readingTop + 1}
            strokeWidth={2}
          />
          {struck.off !== 0 && (
            <path className="s-off" d={chevron(struck.x + struck.off * 8, m.readingTop + 2, struck.off)} />
          )}
          {struck.note && <Said words={struck.note} y={m.readingTop + 13} size={17} className="s-note" />}
        </g>
      ))}
      {layout.before && <Before interval={layout.before} m={m} />}
      {layout.mean && (
        <Mean
          interval={layout.mean}
          m={m}
          size={size}
          hollow={hollow}
          dashed={strip.usual_scatter}
          down={plate ? (m.secondDatum ?? m.whisker) : m.whisker}
          proposed={move !== null}
        />
      )}
      {layout.meanNote && <Said words={layout.meanNote} y={m.whisker + 5.5} size={16} />}
      {move && <Move {...move} m={m} size={size} />}
      {plate && <Plate {...plate} m={m} x0={x0} x9={x9} calm={strip.move_to === null} />}
      {named && strip.low !== null && (
        <RowNames measured={strip.measured_name} proposal={strip.plate ? strip.proposal_name : ""} m={m} />
      )}
    </svg>
  );
}

function Stop({ x, turn, m }: { x: number; turn: 1 | -1; m: Measures }) {
  const top = m.bandTop + m.stopWidth / 2;
  return (
    <path className="s-stop" strokeWidth={m.stopWidth} d={`M${x + turn * m.serif} ${top}H${x}V${m.datum}`} />
  );
}

function Target({ x, text, m, size }: { x: number; text: string; m: Measures; size: StripSize }) {
  if (size === "inline" || m.figures === null) {
    return <line className="s-target" x1={x} x2={x} y1={0} y2={m.datum} strokeWidth={2} />;
  }
  const half = (text.length * m.figureSize * 0.6) / 2 + m.figureSize * 0.5;
  const top = m.figures - m.figureSize * 0.86 - 2;
  const bottom = m.figures + 4;
  const tip = `L${x + 1.5} ${bottom + 6}V${m.datum}h-3V${bottom + 6}L${x - 6} ${bottom}`;
  return (
    <g data-part="target">
      <path className="s-plate" d={`M${x - half} ${top}H${x + half}V${bottom}H${x + 6}${tip}H${x - half}z`} />
      <text className="s-on-plate" x={x} y={m.figures} fontSize={m.figureSize} textAnchor="middle">
        {text}
      </text>
    </g>
  );
}

type MeanProps = {
  interval: Interval;
  m: Measures;
  size: StripSize;
  hollow: boolean;
  dashed: boolean;
  down: number;
  proposed: boolean;
};

function Mean({ interval, m, size, hollow, dashed, down, proposed }: MeanProps) {
  const { x, from, to } = interval;
  const y = m.whisker;
  const inside = interval.off === 0;
  return (
    <g data-part="mean">
      {size !== "inline" && inside && (
        <line
          className={proposed ? "s-move" : "s-hollow"}
          x1={x}
          x2={x}
          y1={m.datum}
          y2={down}
          strokeWidth={1}
        />
      )}
      {to > from && inside && (
        <g data-part="whisker">
          <line
            className={dashed ? "s-dash" : ""}
            x1={from}
            x2={to}
            y1={y}
            y2={y}
            strokeWidth={size === "hero" ? 3 : 2}
          />
          <End x={from} open={interval.openFrom} turn={-1} m={m} />
          <End x={to} open={interval.openTo} turn={1} m={m} />
        </g>
      )}
      {!inside && (
        <path className="s-off" strokeWidth={2} d={chevron(x + interval.off * 2, y - 5, interval.off)} />
      )}
      <g className="s-slide" style={{ transform: `translateX(${x - interval.off * (m.lozenge + 8)}px)` }}>
        <path className={hollow ? "s-lozenge s-hollow" : "s-lozenge"} d={lozenge(y, m.lozenge)} />
      </g>
    </g>
  );
}

function End({ x, open, turn, m }: { x: number; open: boolean; turn: 1 | -1; m: Measures }) {
  if (open) return <path strokeWidth={2} d={chevron(x - turn * 5, m.whisker - 5, turn)} />;
  return <line x1={x} x2={x} y1={m.whisker - m.cap} y2={m.whisker + m.cap} strokeWidth={2} />;
}

function Before({ interval, m }: { interval: Interval; m: Measures }) {
  const y = m.bandTop + 3.5;
  return (
    <g data-part="before">
      <line x1={interval.from} x2={interval.to} y1={y} y2={y} strokeWidth={1.5} />
      {[interval.from, interval.to].map((x) => (
        <line key={x} x1={x} x2={x} y1={y - 2.5} y2={y + 2.5} strokeWidth={1.5} />
      ))}
      <g style={{ transform: `translateX(${interval.x}px)` }}>
        <path className="s-lozenge s-hollow" d={lozenge(y, 3.4)} />
      </g>
    </g>
  );
}

function Move({
  from,
  to,
  note,
  m,
  size,
}: {
  from: number;
  to: number;
  note: Words | null;
  m: Measures;
  size: StripSize;
}) {
  const way = Math.sign(to - from);
  const head = size === "inline" ? 3 : size === "panel" ? 4.5 : 6;
  return (
    <g data-part="move">
      <line
        className="s-move"
        x1={from}
        x2={to - way * head}
        y1={m.move}
        y2={m.move}
        strokeWidth={size === "hero" ? 2.5 : 1.75}
      />
      <line
        className="s-move"
        x1={from}
        x2={from}
        y1={m.move - head + 1}
        y2={m.move + head - 1}
        strokeWidth={2}
      />
      <path className="s-move-head" d={`M${to} ${m.move}l${-way * head * 1.7} ${-head}v${head * 2}z`} />
      {note && <Said words={note} y={m.move + 5.5} size={size === "hero" ? 17 : 14} className="s-blue" />}
    </g>
  );
}

type PlateProps = {
  x: number;
  half: number;
  text: string;
  beside: Words | null;
  m: Measures;
  x0: number;
  x9: number;
  calm: boolean;
};

function Plate({ x, half, text, beside, m, x0, x9, calm }: PlateProps) {
  const y = m.secondDatum ?? m.height;
  return (
    <g data-part="plate">
      <line x1={x0} x2={x9} y1={y} y2={y} strokeWidth={1.5} />
      <path
        className={calm ? "s-proposal s-calm" : "s-proposal"}
        d={`M${x - 1.5} ${y}h3L${x + 7} ${y + 4}H${x + half}V${m.height}H${x - half}V${y + 4}H${x - 7}z`}
      />
      <text className="s-on-proposal" x={x} y={m.height - 3.5} fontSize={17} textAnchor="middle">
        {text}
      </text>
      {beside && <Said words={beside} y={m.height - 3.5} size={16} className="s-quiet" />}
    </g>
  );
}

function RowNames({ measured, proposal, m }: { measured: string; proposal: string; m: Measures }) {
  return (
    <g fontSize={15}>
      <text className="s-asked-word" x={0} y={m.datum - 22}>
        Asked
      </text>
      <text className="s-quiet" x={0} y={m.datum - 5}>
        {measured}
      </text>
      <text x={0} y={m.readingTop + 13}>
        Measured
      </text>
      {proposal && (
        <text className="s-quiet" x={0} y={m.height - 3.5} fontSize={NAME_SIZE}>
          {proposal}
        </text>
      )}
    </g>
  );
}

function Said({
  words,
  y,
  size,
  className = "",
}: {
  words: Words;
  y: number;
  size: number;
  className?: string;
}) {
  return (
    <text className={className} x={words.x} y={y} fontSize={size} textAnchor={words.anchor}>
      {words.text}
    </text>
  );
}

function lozenge(y: number, size: number): string {
  return `M0 ${y - size}l${size} ${size}l${-size} ${size}l${-size} ${-size}z`;
}

function chevron(x: number, y: number, way: number): string {
  return `M${x} ${y}l${way * 5} 5l${-way * 5} 5`;
}
