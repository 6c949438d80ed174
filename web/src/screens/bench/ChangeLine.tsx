import type { Schemas } from "../../api/client";
import { dayOf } from "../../shell/dates";
import { useChanges } from "./useChanges";

type Props = { setupId: number; change: Schemas["ChangeOut"] };

/** One thing done to the machine; an entry made by mistake is struck through, never gone. */
export function ChangeLine({ setupId, change }: Props) {
  const { log, withdraw } = useChanges(setupId);
  return (
    <li className="border-b border-rule py-2 last:border-b-0">
      <div className="flex items-baseline justify-between text-small text-ink-2">
        <span>
          {dayOf(change.happened_at)}, {change.person}
          {change.withdrawn && ", taken back"}
        </span>
        {!change.withdrawn && (
          <button
            type="button"
            className="link -my-3 min-h-11"
            aria-label={`Take back: ${change.name}`}
            onClick={() => withdraw.mutate(change)}
          >
            Take back
          </button>
        )}
        {change.withdrawn && (
          <button
            type="button"
            className="link -my-3 min-h-11"
            aria-label={`Put back: ${change.name}`}
            onClick={() => log.mutate(change)}
          >
            Put back
          </button>
        )}
      </div>
      {change.withdrawn ? (
        <s className="text-body text-ink-2">{change.name}</s>
      ) : (
        <span className="block text-body">{change.name}</span>
      )}
      {change.note && <span className="note block">{change.note}</span>}
      {(withdraw.error ?? log.error) && (
        <p role="alert" className="text-body font-semibold text-out">
          {(withdraw.error ?? log.error)?.detail}
        </p>
      )}
    </li>
  );
}
