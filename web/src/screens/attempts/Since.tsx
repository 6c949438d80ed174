import { useSince } from "../../api/queries";
import { Trouble, Waiting } from "../../shell/Trouble";

/** What differs from another attempt, or from the one at the same part before, and what that may be worth. */
export function Since({ printId, against = null }: { printId: number; against?: number | null }) {
  const since = useSince(printId, against);
  if (since.isError) return <Trouble error={since.error} onAgain={() => since.refetch()} />;
  if (!since.data) return <Waiting />;
  const { before, changed, said } = since.data;
  return (
    <div className="mt-1 max-w-140 border-l-4 border-mark bg-well px-3 py-2">
      {before && <p className="text-body text-ink-2">Since {before}</p>}
      {changed.length > 0 && (
        <dl className="my-1 grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 text-body">
          {changed.map((row) => (
            <div key={`${row.name} ${row.after}`} className="contents">
              <dt>{row.name}</dt>
              <dd>
                {row.before ? (
                  <>
                    {row.before} <span className="text-ink-2">to</span> <strong>{row.after}</strong>
                  </>
                ) : (
                  <span className="note">{row.after || "done"}</span>
                )}
              </dd>
            </div>
          ))}
        </dl>
      )}
      <p className="text-body font-semibold">{said}</p>
    </div>
  );
}
