import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { useRuns } from "../../api/queries";
import { dayOf } from "../../shell/dates";
import { Page } from "../../shell/Page";
import { SaveTable } from "../../shell/SaveTable";
import { Trouble, Waiting } from "../../shell/Trouble";

/** All runs: what is open first, then what ended, by page. */
export function RunsScreen() {
  const [pages, setPages] = useState<(number | undefined)[]>([undefined]);
  const cursor = pages.at(-1);
  const runs = useRuns(cursor);
  const next = runs.data?.next_cursor;
  return (
    <Page tab="Runs" keys={[]}>
      <div className="w-full px-3 py-4 desk:px-6">
        {runs.isPending && <Waiting />}
        {runs.isError && !runs.data && <Trouble error={runs.error} onAgain={() => runs.refetch()} />}
        {runs.data && (
          <>
            {cursor === undefined && (
              <Section title="Open" empty="Nothing is open. Start from the bench." runs={runs.data.open} />
            )}
            <Section title="Ended" empty="Nothing has been measured yet." runs={runs.data.ended} />
            <div className="mt-3 flex gap-3">
              {pages.length > 1 && (
                <button type="button" className="button" onClick={() => setPages(pages.slice(0, -1))}>
                  Newer
                </button>
              )}
              {next && (
                <button type="button" className="button" onClick={() => setPages([...pages, next])}>
                  Older
                </button>
              )}
              <SaveTable
                label="All readings as a table (CSV)"
                fetch={() => answer(api.GET("/api/v1/readings"))}
              />
            </div>
          </>
        )}
      </div>
    </Page>
  );
}

function Section({
  title,
  empty,
  runs,
}: {
  title: string;
  empty: string;
  runs: readonly Schemas["RunLineOut"][];
}) {
  return (
    <section className="mb-6">
      <h1 className="mb-1 text-cell">{title}</h1>
      {runs.length === 0 ? (
        <p className="border-t-2 border-ink py-3 text-reason text-ink-2">{empty}</p>
      ) : (
        <ul className="border-t-2 border-ink">
          {runs.map((run) => (
            <RunLine key={run.id} run={run} />
          ))}
        </ul>
      )}
    </section>
  );
}

function RunLine({ run }: { run: Schemas["RunLineOut"] }) {
  return (
    <li
      className={`border-b border-rule ${run.state === "open" ? "border-l-6 border-l-mark bg-well pr-3 pl-3" : "desk:pr-3 desk:pl-4.5"}`}
    >
      <Link
        to={`/runs/${run.id}`}
        className="grid min-h-11 items-center gap-x-4 py-2 desk:grid-cols-[3rem_8rem_minmax(0,1fr)_minmax(0,1fr)_11rem]"
      >
        <span className="hidden text-body text-ink-2 desk:block">{run.id}</span>
        <span className="text-name font-semibold">{run.name}</span>
        <span className="text-reason">{run.outcome}</span>
        <span className="text-body text-ink-2">{run.setup}</span>
        <span className="text-small text-ink-2 desk:text-right">
          {dayOf(run.started_at)}, {run.person}
        </span>
      </Link>
    </li>
  );
}
