import { useEffect, useRef } from "react";
import type { Schemas } from "../../api/client";
import { dayOf } from "../../shell/dates";

type Revision = Schemas["RevisionOut"];
type Props = {
  revisions: readonly Revision[];
  left: number;
  right: number;
  onPick: (number: number) => void;
};

/** Revisions in the order of their days; the two compared ones are the jaws, the bar between them is the span. */
export function Timeline({ revisions, left, right, onPick }: Props) {
  const rows = [...revisions].sort((a, b) => a.number - b.number);
  const jaw = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (right > 0) jaw.current?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [right]);
  return (
    <nav
      aria-label="Revisions"
      className="shrink-0 overflow-x-auto border-b-2 border-ink bg-well px-3 pt-3 pb-2 desk:px-6"
    >
      <ol className="flex min-w-max border-b-2 border-ink">
        {rows.map((row) => {
          const isJaw = row.number === left || row.number === right;
          const spanned = row.number >= left && row.number < right;
          return (
            <li
              key={row.number}
              ref={row.number === right ? jaw : undefined}
              className="relative min-w-40 flex-1"
            >
              {spanned && <span className="absolute top-5 right-0 left-5 h-1 translate-x-2.5 bg-press" />}
              <button
                type="button"
                onClick={() => onPick(row.number)}
                aria-current={isJaw || undefined}
                className="relative block cursor-pointer pb-2 text-left"
              >
                <span
                  className={`mb-1 flex size-11 items-center justify-center border-2 text-name font-bold ${isJaw ? "border-press bg-press text-on-press" : "border-ink bg-sheet"}`}
                >
                  {row.number}
                </span>
                <span className="block text-body">{row.cause}</span>
                <span className="block text-small text-ink-2">
                  {dayOf(row.at)}, {row.person}
                </span>
              </button>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
