import { useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useCourse } from "../../api/queries";
import { CourseChart } from "../../instrument/CourseChart";
import { dayOf } from "../../shell/dates";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";

/** The values of a setup over a year, one below the other on the same time, and what was done and printed meanwhile. */
export function CourseScreen() {
  const course = useCourse(Number(useParams().setupId));
  const { data } = course;
  return (
    <Page tab="Profiles" name="Over the year" aside={data?.setup.title} keys={[]} back="/profiles">
      <div className="w-full px-3 py-4 desk:px-6">
        <h1 className="text-cell">Over the year</h1>
        <p className="mb-3 text-body text-ink-2">
          {data?.setup.title}. The line is what was set. Full dots are what was measured, with their ±; open
          ones were typed or copied. Below the line what was done, on it what was printed: strokes work,
          crosses do not.
        </p>
        {course.isPending && <Waiting />}
        {course.isError && !data && <Trouble error={course.error} onAgain={() => course.refetch()} />}
        {data && data.lines.length === 0 && (
          <p className="border-t-2 border-ink py-3 text-reason text-ink-2">Nothing was set yet.</p>
        )}
        {data && moved(data).map((line) => <Line key={line.kind} course={data} line={line} />)}
        {data && <Still lines={data.lines.filter((line) => !changed(line))} />}
        {data && data.events.length > 0 && (
          <details className="mt-3">
            <summary className="min-h-11 cursor-pointer text-body font-semibold">
              What was done, by day
            </summary>
            <ul>
              {data.events.map((event) => (
                <li key={`${event.at_s} ${event.name}`} className="text-body">
                  {dayOf(new Date(event.at_s * 1000).toISOString())}: {event.name}{" "}
                  <span className="note">{event.note}</span>
                </li>
              ))}
            </ul>
          </details>
        )}
      </div>
    </Page>
  );
}

/** Values that were set more than once or measured, those that move by themselves first. */
function moved({ lines }: Schemas["CourseOut"]) {
  return lines.filter(changed).sort((one, other) => Number(other.alarm) - Number(one.alarm));
}

function changed(line: Schemas["CourseLineOut"]) {
  return line.points.length > 1 || line.points.some((point) => point.measured);
}

/** What was typed once and has stood ever since: nothing that a line would show. */
function Still({ lines }: { lines: readonly Schemas["CourseLineOut"][] }) {
  if (lines.length === 0) return null;
  return (
    <section aria-label="Typed once" className="border-t border-rule py-2">
      <h2 className="text-name font-[650]">Typed once, the same since</h2>
      <ul className="grid gap-x-6 text-body desk:grid-cols-3">
        {lines.map((line) => (
          <li key={line.kind}>
            {line.name} {line.points[0]?.text} {line.unit_text}{" "}
            <span className="text-small text-ink-2">
              since {dayOf(new Date((line.points[0]?.at_s ?? 0) * 1000).toISOString())}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

type Props = { course: Schemas["CourseOut"]; line: Schemas["CourseLineOut"] };

function Line({ course, line }: Props) {
  const newest = line.points.at(-1);
  return (
    <section
      aria-label={line.name}
      className="grid border-t border-rule py-2 desk:grid-cols-[15rem_minmax(0,1fr)]"
    >
      <div>
        <h2 className="text-name font-[650]">{line.name}</h2>
        <p className="text-body">
          {newest?.text} {newest?.half_width_text} {line.unit_text}
        </p>
        {line.drift && (
          <p className={line.alarm ? "text-body font-semibold text-stale" : "text-small text-ink-2"}>
            {line.drift}
          </p>
        )}
        <details>
          <summary className="min-h-8 cursor-pointer text-small text-ink-2">As a table</summary>
          <table className="text-small">
            <tbody>
              {line.points.map((point) => (
                <tr key={point.at_s}>
                  <td className="pr-3">{dayOf(new Date(point.at_s * 1000).toISOString())}</td>
                  <td className="pr-3">{point.text}</td>
                  <td>
                    {point.measured ? `measured ${point.found_text} ${point.half_width_text}` : "typed"},{" "}
                    {point.person}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      </div>
      <CourseChart course={course} line={line} />
    </section>
  );
}
