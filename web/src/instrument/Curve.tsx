import type { Schemas } from "../api/client";
import { useWidth } from "./width";

type Props = { curve: Schemas["CurveOut"] };

const [HIGH, TOP, LOW, LEFT, RIGHT] = [210, 34, 170, 14, 14];

/** What a run found over its values: points with their spread, where the answer lies, and the values that have a name. */
export function Curve({ curve }: Props) {
  const [box, width] = useWidth(0);
  const points = curve.series.flatMap((series) => series.points);
  const xs = points.map((point) => point.x);
  const ends = points.flatMap((point) => [point.y - point.spread, point.y + point.spread]);
  if (curve.level !== null) ends.push(curve.level);
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  const [from, to] = [Math.min(...xs), Math.max(...xs)];
  const x = (value: number) =>
    LEFT +
    14 +
    ((width - LEFT - RIGHT - 28) * (Math.min(Math.max(value, from), to) - from)) / (to - from || 1);
  const y = (value: number) => LOW - ((LOW - TOP) * (value - least)) / (most - least || 1);
  const said = curve.series.map((one) => one.points.map((point) => point.text).join("; ")).join(". ");
  const every = Math.ceil(new Set(xs).size / Math.max(1, Math.floor(width / 62)));
  const ticks = [...new Set(xs)].sort((one, other) => one - other).filter((_, place) => place % every === 0);
  return (
    <figure className="min-w-0">
      <figcaption className="text-small text-ink-2">
        {curve.y_name}, over {curve.x_name}
        {curve.series.length > 1 &&
          `: ${curve.series.map((one, place) => `${SIGNS[place]} ${one.name}`).join(", ")}`}
      </figcaption>
      <div ref={box}>
        {width > 0 && points.length > 0 && (
          <svg width={width} height={HIGH} role="img" aria-label={`${curve.y_name}: ${said}`} fill="none">
            {curve.low !== null && curve.high !== null && (
              <path
                d={`M${x(curve.low)} ${TOP}H${x(curve.high)}V${LOW}H${x(curve.low)}z`}
                className="fill-well stroke-rule"
              />
            )}
            <path d={`M${LEFT} ${LOW}H${width - RIGHT}`} className="stroke-ink" strokeWidth="1.5" />
            {curve.level !== null && (
              <path
                d={`M${LEFT} ${y(curve.level)}H${width - RIGHT}`}
                className="stroke-asked"
                strokeDasharray="5 4"
                strokeWidth="1.5"
              />
            )}
            {curve.level !== null && curve.level_text && (
              <text
                x={width - RIGHT}
                y={y(curve.level) - 5}
                textAnchor="end"
                className="fill-asked text-small"
              >
                {curve.level_text}
              </text>
            )}
            {curve.series.map((series, place) => (
              <Series key={series.name} series={series} x={x} y={y} hollow={place > 0} />
            ))}
            {ticks.map((value) => (
              <text key={value} x={x(value)} y={LOW + 18} textAnchor="middle" className="fill-ink text-small">
                {Number(value.toFixed(3))}
              </text>
            ))}
            {curve.marks.map((mark, place) => (
              <g
                key={mark.text}
                className={mark.offered ? "fill-mark stroke-mark" : "fill-ink-2 stroke-ink-2"}
              >
                <path
                  d={`M${x(mark.x)} ${TOP - 4}V${LOW}`}
                  strokeWidth="1.5"
                  strokeDasharray={mark.offered ? "" : "3 3"}
                />
                <text
                  x={Math.min(Math.max(x(mark.x), 30), width - 30)}
                  y={TOP - 8 - (place % 2) * 13}
                  textAnchor="middle"
                  stroke="none"
                  className="text-small"
                >
                  {mark.text}
                </text>
              </g>
            ))}
          </svg>
        )}
      </div>
    </figure>
  );
}

const SIGNS = ["●", "○"];

type SeriesProps = {
  series: Schemas["CurveSeriesOut"];
  x: (value: number) => number;
  y: (value: number) => number;
  hollow: boolean;
};

function Series({ series, x, y, hollow }: SeriesProps) {
  const path = series.points
    .map((point, place) => `${place ? "L" : "M"}${x(point.x)} ${y(point.y)}`)
    .join("");
  return (
    <g className="stroke-ink">
      <path
        d={path}
        strokeWidth="1.5"
        className={hollow ? "stroke-ink-3" : "stroke-ink"}
        strokeDasharray={hollow ? "2 3" : ""}
      />
      {series.points.map((point) => (
        <g key={point.x}>
          {point.spread > 0 && (
            <path
              d={`M${x(point.x)} ${y(point.y - point.spread)}V${y(point.y + point.spread)}`}
              strokeWidth="2.5"
            />
          )}
          <circle
            cx={x(point.x)}
            cy={y(point.y)}
            r="4"
            strokeWidth="1.5"
            className={hollow ? "fill-sheet" : "fill-ink"}
          />
        </g>
      ))}
    </g>
  );
}
