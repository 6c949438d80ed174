import type { Schemas } from "../../api/client";

/** Cautions, before the step they belong to: a bold first word, then what to do. */
export function Cautions({ cautions }: { cautions: readonly Schemas["CautionOut"][] }) {
  return (
    <section>
      <h2 className="mb-2 text-cell text-stale">Before you start</h2>
      <ul className="space-y-1.5">
        {cautions.map((caution) => (
          <li key={caution.lead} className="text-care leading-snug">
            <strong>{caution.lead}</strong> {caution.text}
          </li>
        ))}
      </ul>
    </section>
  );
}
