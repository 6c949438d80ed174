import { useState } from "react";
import { Link, useParams } from "react-router";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { usePrints } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { dayAndTime } from "../../shell/dates";
import { useOutbox, useParcels } from "../../shell/OutboxProvider";
import { Page } from "../../shell/Page";
import { SaveTable } from "../../shell/SaveTable";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";
import { Since } from "../attempts/Since";
import { AttemptDialog } from "./laterDialogs";

/** Real prints of a setup: what, how it came out, what was noted; an entry made by mistake is taken back here. */
export function PrintsScreen() {
  const setupId = Number(useParams().setupId);
  const prints = usePrints(setupId);
  const [logging, setLogging] = useState(false);
  const rows = prints.data?.prints ?? [];
  return (
    <Page tab="Bench" name="Attempts" aside={prints.data?.setup.title} keys={[]} setupId={setupId}>
      <div className="w-full px-3 py-4 desk:px-6">
        <div className="mb-2 flex flex-wrap items-baseline gap-x-6">
          <h1 className="text-cell">Attempts</h1>
          <p className="text-body text-ink-2">{prints.data?.setup.title}</p>
          <button type="button" className="button ml-auto" onClick={() => setLogging(true)}>
            Write an attempt down <KeyHint>A</KeyHint>
          </button>
        </div>
        {prints.data && rows.length > 0 && <p className="mb-2 text-body">{prints.data.qualified}</p>}
        <NotTaken setupId={setupId} />
        {prints.isPending && <Waiting />}
        {prints.isError && <Trouble error={prints.error} onAgain={() => prints.refetch()} />}
        {prints.data && rows.length === 0 && (
          <p className="border-t-2 border-ink py-3 text-reason text-ink-2">
            Nothing logged yet. What a profile is good for shows in what was printed with it.
          </p>
        )}
        {rows.length > 0 && (
          <ul className="border-t-2 border-ink">
            {rows.map((row) => (
              <PrintLine key={row.id} row={row} setupId={setupId} />
            ))}
          </ul>
        )}
        {rows.length > 0 && (
          <div className="mt-4">
            <SaveTable
              label="All attempts as a table (CSV)"
              fetch={() => answer(api.GET("/api/v1/prints"))}
            />
          </div>
        )}
      </div>
      {logging && <AttemptDialog setupId={setupId} onClose={() => setLogging(false)} />}
    </Page>
  );
}

/** Attempts that the workshop refused when the network was back: kept here until a person says what becomes of them. */
function NotTaken({ setupId }: { setupId: number }) {
  const outbox = useOutbox();
  const refused = useParcels().filter((one) => one.attempt?.setupId === setupId && one.refusal !== null);
  if (refused.length === 0) return null;
  return (
    <section aria-label="Not taken" className="my-3 border-t-2 border-out pt-2">
      <h2 className="text-name text-out">Not taken</h2>
      <ul>
        {refused.map((one) => (
          <li key={one.key} className="border-b border-rule py-2">
            <strong>{one.typed}</strong> {one.attempt && said(one.attempt.body)}{" "}
            <span className="text-care font-semibold text-out">{one.refusal?.reason}</span>
            <button
              type="button"
              className="link ml-4 min-h-11 text-body"
              onClick={() => outbox.drop(one.key)}
            >
              Let it go
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What was written down of an attempt, so that it can be written again. */
function said({ outcome, signs, trials, note }: Schemas["PrintIn"]) {
  const rated = Object.entries(signs).map(([key, rating]) => `${key} ${rating}`);
  const tried = trials.map((row) => `${row.kind} ${row.typed}`);
  return [outcome, ...rated, ...tried, note].filter(Boolean).join(", ");
}

function PrintLine({ row, setupId }: { row: Schemas["PrintOut"]; setupId: number }) {
  const [asked, setAsked] = useState(false);
  const back = useWrite(() =>
    answer(
      api.POST("/api/v1/prints/{print_id}/withdrawal", {
        params: { path: { print_id: row.id }, header: writeHeaders() },
      }),
    ),
  );
  const what = (
    <Link to={`/attempts/${row.id}`} className="link text-name font-[650]">
      {row.what}
    </Link>
  );
  return (
    <li className="grid items-baseline gap-x-4 border-b border-rule py-2 desk:grid-cols-[13rem_minmax(0,1fr)_11rem_18rem_6rem]">
      <span className="text-small text-ink-2">
        {dayAndTime(row.happened_at)}, {row.person}
      </span>
      <span className="min-w-0">
        {row.withdrawn ? <s>{what}</s> : what}
        {row.signs.length > 0 && <span className="block text-body">{row.signs.join("; ")}</span>}
        {row.note && <span className="note block">{row.note}</span>}
        {!row.withdrawn && (
          <button
            type="button"
            className="link block min-h-11 text-body desk:min-h-0"
            aria-expanded={asked}
            aria-label={`What changed before ${row.what}`}
            onClick={() => setAsked(!asked)}
          >
            What changed?
          </button>
        )}
        {!row.withdrawn && row.outcome !== "good" && (
          <Link
            className="link block min-h-11 text-body desk:min-h-0"
            to={`/faults?setup=${setupId}&print=${row.id}`}
          >
            Open a case
          </Link>
        )}
        {asked && <Since printId={row.id} />}
      </span>
      <span
        className={`text-body ${row.withdrawn ? "text-ink-2" : row.outcome === "good" ? "text-asked" : "text-out"}`}
      >
        {row.withdrawn ? "taken back" : row.said}
      </span>
      <span className="text-body text-ink-2">
        {[row.took, row.spool && `spool ${row.spool}`, row.revision && `revision ${row.revision}`]
          .filter(Boolean)
          .join(", ")}
      </span>
      <span className="text-right">
        {!row.withdrawn && (
          <button
            type="button"
            className="link min-h-11 text-body"
            aria-label={`Take back: ${row.what}`}
            onClick={() => back.mutate(undefined)}
          >
            Take back
          </button>
        )}
        {back.error && (
          <span role="alert" className="block text-care font-semibold text-out">
            {back.error.detail}
          </span>
        )}
      </span>
    </li>
  );
}
