import type { Schemas } from "../api/client";
import { dayOf } from "../shell/dates";

type Line = Schemas["CourseLineOut"];
type Props = { course: Schemas["CourseOut"]; line: Line };

const [WIDE, HIGH, LEFT, RIGHT, TOP, LOW] = [1000, 150, 8, 992, 12, 112];

/** One value over a year: each time it was set with its ±, changes below the datum, prints as marks on it. */
export function CourseChart({ course, line }: Props) {
  const from = Date.parse(course.since) / 1000;
  const to = Date.parse(course.until) / 1000;
  const x = (at: number) => LEFT + ((RIGHT - LEFT) * (Math.max(at, from) - from)) / Math.max(1, to - from);
  const ends = line.points.flatMap(({ number, half_width: half }) => [
    number - (half ?? 0),
    number + (half ?? 0),
  ]);
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  const room = (most - least || Math.abs(most) || 1) * 0.12;
  const y = (value: number) => LOW - ((LOW - TOP) * (value - least + room)) / (most - least + 2 * room);
  const path = line.points
    .map((point, index) => {
      const across = x(point.at_s);
      return index === 0 ? `M${across} ${y(point.number)}` : `H${across}V${y(point.number)}`;
    })
    .join("");
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      className="block w-full"
      role="img"
      aria-label={`${line.name} over a year: ${line.points.map((point) => `${dayOf(new Date(point.at_s * 1000).toISOString())} ${point.text}`).join(", ")}`}
      fill="none"
    >
      <path d={`M${LEFT} ${LOW}H${RIGHT}`} className="stroke-ink" strokeWidth="1.5" />
      <path d={`${path}H${RIGHT}`} className="stroke-ink-3" strokeWidth="1.5" />
      {line.points.map((point) => {
        const half = point.half_width ?? 0;
        return (
          <g key={point.at_s} className={point.measured ? "stroke-mark" : "stroke-ink-2"}>
            {half > 0 && (
              <path
                d={`M${x(point.at_s)} ${y(point.number - half)}V${y(point.number + half)}`}
                strokeWidth="3"
              />
            )}
            <circle
              cx={x(point.at_s)}
              cy={y(point.number)}
              r="5"
              strokeWidth="2"
              className={point.measured ? "fill-mark" : "fill-sheet"}
            />
          </g>
        );
      })}
      {course.prints.map((print) => (
        <path
          key={`${print.at_s} ${print.what}`}
          d={print.good ? `M${x(print.at_s)} ${LOW - 8}v8` : `M${x(print.at_s) - 4} ${LOW - 9}l8 8m0 -8l-8 8`}
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
  );
}
