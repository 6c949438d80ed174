import type { Schemas } from "../api/client";
import { dayOf } from "../shell/dates";
import { useWidth } from "./width";

type Course = Schemas["CourseOut"];
type Line = Schemas["CourseLineOut"];

const [HIGH, EDGE, TOP, LOW] = [140, 10, 26, 100];
const MONTH = new Intl.DateTimeFormat("en-GB", { month: "short" });

/** One value over a year: as it stood, each time what was found with its ±, changes below the datum, prints as marks on it. */
export function CourseChart({ course, line }: { course: Course; line: Line }) {
  const [box, width] = useWidth(0);
  const from = Date.parse(course.since) / 1000;
  const to = Date.parse(course.until) / 1000;
  const x = (at: number) =>
    EDGE + ((width - 2 * EDGE) * (Math.max(at, from) - from)) / Math.max(1, to - from);
  const ends = line.points.flatMap(({ number, found, half_width: half }) => [
    Math.min(number, found - (half ?? 0)),
    Math.max(number, found + (half ?? 0)),
  ]);
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  const room = (most - least || Math.abs(most) || 1) * 0.12;
  const y = (value: number) => LOW - ((LOW - TOP) * (value - least + room)) / (most - least + 2 * room);
  const said = line.points.map((point) => `${day(point.at_s)} ${point.found_text}`).join(", ");
  return (
    <div ref={box} className="min-w-0">
      {width > 0 && (
        <svg
          width={width}
          height={HIGH}
          role="img"
          aria-label={`${line.name} over a year: ${said}`}
          fill="none"
        >
          <path d={`M${EDGE} ${LOW}H${width - EDGE}`} className="stroke-ink" strokeWidth="1.5" />
          <Months from={from} to={to} x={x} width={width} />
          <Steps line={line} x={x} y={y} end={width - EDGE} />
          <Labels line={line} x={x} y={y} width={width} />
          {course.prints.map((print) => (
            <path
              key={`${print.at_s} ${print.what}`}
              d={
                print.good
                  ? `M${x(print.at_s)} ${LOW - 9}v9`
                  : `M${x(print.at_s) - 4} ${LOW - 9}l8 8m0 -8l-8 8`
              }
              className={print.good ? "stroke-asked" : "stroke-out"}
              strokeWidth="2.5"
            >
              <title>{`${print.what}, ${print.good ? "works" : "does not work, or stopped"}`}</title>
            </path>
          ))}
          {course.events.map((event) => (
            <path
              key={`${event.at_s} ${event.name}`}
              d={`M${x(event.at_s)} ${LOW}l-6 12h12z`}
              className="fill-stale"
            >
              <title>{`${event.name} ${event.note}`.trim()}</title>
            </path>
          ))}
        </svg>
      )}
    </div>
  );
}

type Scaled = { line: Line; x: (at: number) => number; y: (value: number) => number };

/** The value as it stood from one setting to the next; what was found each time as a dot with its ±. */
function Steps({ line, x, y, end }: Scaled & { end: number }) {
  const path = line.points
    .map((point, index) =>
      index === 0 ? `M${x(point.at_s)} ${y(point.number)}` : `H${x(point.at_s)}V${y(point.number)}`,
    )
    .join("");
  return (
    <>
      <path d={`${path}H${end}`} className="stroke-ink-3" strokeWidth="1.5" />
      {line.points.map((point) => {
        const [at, half] = [x(point.at_s), point.half_width ?? 0];
        return (
          <g key={point.at_s} className={point.measured ? "stroke-mark" : "stroke-ink-2"}>
            {half > 0 && (
              <path d={`M${at} ${y(point.found - half)}V${y(point.found + half)}`} strokeWidth="3" />
            )}
            <circle
              cx={at}
              cy={y(point.found)}
              r="4.5"
              strokeWidth="2"
              className={point.measured ? "fill-mark" : "fill-sheet"}
            />
          </g>
        );
      })}
    </>
  );
}

/** The newest number in full size over its dot, and the first where it was another and has room. */
function Labels({ line, x, y, width }: Scaled & { width: number }) {
  const [first, last] = [line.points[0], line.points.at(-1)];
  const shown = [last, first?.found_text === last?.found_text ? undefined : first].filter(
    (point) => point !== undefined,
  );
  const apart = shown.length < 2 || Math.abs(x(shown[0]?.at_s ?? 0) - x(shown[1]?.at_s ?? 0)) > 70;
  return (apart ? shown : shown.slice(0, 1)).map((point) => {
    const at = x(point.at_s);
    return (
      <text
        key={point.at_s}
        x={Math.min(Math.max(at, 24), width - 24)}
        y={Math.max(14, y(point.found + (point.half_width ?? 0)) - 10)}
        textAnchor="middle"
        className="fill-ink text-small"
      >
        {point.found_text}
      </text>
    );
  });
}

type Time = { from: number; to: number; x: (at: number) => number; width: number };

/** Where months begin; their names as far as there is room. */
function Months({ from, to, x, width }: Time) {
  const every = width > 640 ? 1 : 3;
  const months: Date[] = [];
  const month = new Date(from * 1000);
  month.setDate(1);
  month.setHours(0, 0, 0, 0);
  for (
    month.setMonth(month.getMonth() + 1);
    month.getTime() / 1000 < to;
    month.setMonth(month.getMonth() + 1)
  ) {
    months.push(new Date(month));
  }
  return months.map((begins) => (
    <g key={begins.getTime()}>
      <path d={`M${x(begins.getTime() / 1000)} ${LOW}v5`} className="stroke-ink-3" strokeWidth="1" />
      {begins.getMonth() % every === 0 && x(begins.getTime() / 1000) < width - 30 && (
        <text x={x(begins.getTime() / 1000)} y={LOW + 30} className="fill-ink-2 text-small">
          {MONTH.format(begins)}
        </text>
      )}
    </g>
  ));
}

function day(at: number): string {
  return dayOf(new Date(at * 1000).toISOString());
}
