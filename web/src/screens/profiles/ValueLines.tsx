import type { Schemas } from "../../api/client";

const WORDS = { add: "new", change: "changes", same: "the same already", leave: "left alone" } as const;

/** What becomes of each value that is brought in or gone back to, and why. */
export function ValueLines({ lines }: { lines: Schemas["ImportLineOut"][] }) {
  return (
    <ul className="my-3 border-t border-rule">
      {lines.map((line) => (
        <li key={line.kind} className="flex flex-wrap gap-x-3 border-b border-rule py-1 text-body">
          <span className="w-44 font-semibold">{line.name}</span>
          <span>
            {line.now && line.action === "change" && <s className="text-ink-2">{line.now}</s>} {line.becomes}
          </span>
          <span className={line.action === "leave" ? "text-stale" : "text-ink-2"}>
            {WORDS[line.action]}
            {line.why && `: ${line.why}`}
          </span>
          {line.asks && <span className="basis-full pl-3 text-stale">Asks for a note: {line.asks}</span>}
        </li>
      ))}
    </ul>
  );
}
