import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { useBegun } from "../../api/queries";
import { clockOf } from "../../shell/dates";
import { useWrite } from "../../shell/useWrite";

type Begun = Schemas["BegunOut"];

/** Attempts that print on a setup, and what is to be changed on the way. */
export function Printing({ setupId, onWrite }: { setupId: number; onWrite: () => void }) {
  const rows = (useBegun().data?.begun ?? []).filter((row) => row.setup_id === setupId);
  return rows.map((row) => <OnePrinting key={row.id} row={row} onWrite={onWrite} />);
}

function OnePrinting({ row, onWrite }: { row: Begun; onWrite: () => void }) {
  const end = useWrite(() =>
    answer(
      api.POST("/api/v1/begun/{begun_id}/end", {
        params: { path: { begun_id: row.id }, header: writeHeaders() },
      }),
    ),
  );
  return (
    <div className="mt-2 border-l-4 border-mark bg-well px-3 py-2">
      <p className="text-body">
        <strong>Printing since {clockOf(row.started_at)}:</strong> {row.what}
      </p>
      {row.change && (
        <p className="text-body">
          {row.change}
          {row.remind_at && `, about ${clockOf(row.remind_at)}`}.
        </p>
      )}
      <div className="flex flex-wrap gap-x-4">
        <button type="button" className="link min-h-11 text-body" onClick={onWrite}>
          How did it come out?
        </button>
        <button
          type="button"
          className="link min-h-11 text-body"
          aria-label={`Not so: ${row.what} is not printing`}
          disabled={end.isPending}
          onClick={() => end.mutate(undefined)}
        >
          Not so
        </button>
      </div>
      {end.error && (
        <p role="alert" className="text-care font-semibold text-out">
          {end.error.detail}
        </p>
      )}
    </div>
  );
}

/** On every screen: what is to be changed on a machine now. */
export function ChangeNow() {
  const due = (useBegun().data?.begun ?? []).filter((row) => row.due);
  return due.map((row) => <OneChange key={row.id} row={row} />);
}

function OneChange({ row }: { row: Begun }) {
  const done = useWrite(() =>
    answer(
      api.POST("/api/v1/begun/{begun_id}/change-done", {
        params: { path: { begun_id: row.id }, header: writeHeaders() },
      }),
    ),
  );
  return (
    <div
      role="alert"
      className="no-print flex shrink-0 flex-wrap items-center gap-x-5 border-b-2 border-stale bg-well px-3 desk:px-6"
    >
      <p className="text-reason">
        <strong>{row.machine} now:</strong> {row.change || row.what}
      </p>
      <button
        type="button"
        className="link min-h-11 text-body"
        disabled={done.isPending}
        onClick={() => done.mutate(undefined)}
      >
        Done
      </button>
    </div>
  );
}
