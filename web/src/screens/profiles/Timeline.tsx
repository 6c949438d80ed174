import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { dayOf } from "../../shell/dates";

type Revision = Schemas["RevisionOut"];
type Event = Schemas["EventOut"];
type Props = {
  revisions: readonly Revision[];
  events: readonly Event[];
  left: number;
  right: number;
  onPick: (number: number) => void;
};

const MOST_SHOWN = 15;

/** Revisions that are drawn: all of a few; of many the newest, the two compared ones, and those a print was judged under. */
function thinned(rows: readonly Revision[], jaws: readonly number[]): Revision[] {
  return rows.filter(
    (row, index) =>
      index >= rows.length - MOST_SHOWN || jaws.includes(row.number) || row.good > 0 || row.bad > 0,
  );
}

/** Revisions above the line, what happened to the machine below it; the two compared ones are the jaws. */
export function Timeline({ revisions, events, left, right, onPick }: Props) {
  const [all, setAll] = useState(false);
  const sorted = [...revisions].sort((a, b) => a.number - b.number);
  const rows = all ? sorted : thinned(sorted, [left, right]);
  const jaw = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (right > 0) jaw.current?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [right]);
  return (
    <nav
      aria-label="Revisions"
      className="shrink-0 overflow-x-auto border-b-2 border-ink bg-well px-3 pt-3 pb-2 desk:px-6"
    >
      <ol className="flex min-w-max">
        {rows.length < sorted.length && (
          <li className="min-w-40 pr-3">
            <button type="button" className="button" onClick={() => setAll(true)}>
              {sorted.length - rows.length} more
            </button>
            <p className="mt-1 text-small text-ink-2">earlier ones that no print was judged under</p>
          </li>
        )}
        {rows.map((row, index) => {
          const isJaw = row.number === left || row.number === right;
          const spanned = row.number >= left && row.number < right;
          return (
            <li
              key={row.number}
              ref={row.number === right ? jaw : undefined}
              className="relative flex min-w-40 flex-1 flex-col"
            >
              {spanned && <span className="absolute top-5 right-0 left-5 h-1 translate-x-2.5 bg-press" />}
              <button
                type="button"
                onClick={() => onPick(row.number)}
                aria-current={isJaw || undefined}
                className="relative block cursor-pointer pb-2 text-left"
              >
                <span className="mb-1 flex items-end gap-2">
                  <span
                    className={`flex size-11 items-center justify-center border-2 text-name font-bold ${isJaw ? "border-press bg-press text-on-press" : "border-ink bg-sheet"}`}
                  >
                    {row.number}
                  </span>
                  <span className="bg-well text-small leading-4">
                    {row.good > 0 && <span className="block">{row.good} good</span>}
                    {row.bad > 0 && <span className="block text-out">{row.bad} bad</span>}
                  </span>
                </span>
                <span className="block text-body">{row.cause}</span>
                <span className="block text-small text-ink-2">
                  {dayOf(row.at)}, {row.person}
                </span>
              </button>
              <Happened events={between(events, row, rows[index + 1], index === 0)} />
            </li>
          );
        })}
      </ol>
    </nav>
  );
}

/** What happened from a revision on until the next one; before the first, it stands under the first. */
function between(events: readonly Event[], from: Revision, to: Revision | undefined, first: boolean) {
  return events
    .filter((event) => !event.withdrawn)
    .filter((event) => (first || event.happened_at >= from.at) && (!to || event.happened_at < to.at))
    .reverse();
}

function Happened({ events }: { events: readonly Event[] }) {
  return (
    <ul aria-label="Happened since" className="flex-1 border-t-2 border-ink pt-1 pr-3">
      {events.slice(0, 3).map((event) => (
        <li key={event.key} className="max-w-44 pb-1 text-small leading-4 text-ink-2" title={event.note}>
          {dayOf(event.happened_at)}:{" "}
          {event.fault_id === null ? (
            event.name
          ) : (
            <Link className="link" to={`/faults/${event.fault_id}`}>
              {event.name}
            </Link>
          )}
        </li>
      ))}
      {events.length > 3 && <li className="text-small text-ink-2">and {events.length - 3} more</li>}
    </ul>
  );
}
