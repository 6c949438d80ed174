import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { dayOf } from "../../shell/dates";
import { useWrite } from "../../shell/useWrite";

/** One thing done to the machine; an entry made by mistake is struck through, never gone. */
export function ChangeLine({ change }: { change: Schemas["ChangeOut"] }) {
  const withdraw = useWrite(() =>
    answer(
      api.POST("/api/v1/changes/{change_id}/withdrawal", {
        params: { path: { change_id: change.id }, header: writeHeaders() },
      }),
    ),
  );
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
            onClick={() => withdraw.mutate(undefined)}
          >
            Take back
          </button>
        )}
      </div>
      {change.withdrawn ? (
        <s className="text-body text-ink-2">{change.name}</s>
      ) : (
        <span className="block text-body">{change.name}</span>
      )}
      {change.note && <span className="note block">{change.note}</span>}
      {withdraw.error && (
        <p role="alert" className="text-body font-semibold text-out">
          {withdraw.error.detail}
        </p>
      )}
    </li>
  );
}
