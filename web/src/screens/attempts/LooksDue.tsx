import { useState } from "react";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { useWrite } from "../../shell/useWrite";

/** What shows only later and whose day has come: still good, or not. */
export function LooksDue({ looks }: { looks: readonly Schemas["LookAgainOut"][] }) {
  return looks.map((row) => <LookDue key={row.id} row={row} />);
}

function LookDue({ row }: { row: Schemas["LookAgainOut"] }) {
  const [note, setNote] = useState("");
  const said = useWrite((outcome: Schemas["LookedIn"]["outcome"]) =>
    answer(
      api.POST("/api/v1/looks/{look_id}", {
        params: { path: { look_id: row.id }, header: writeHeaders() },
        body: { outcome, note },
      }),
    ),
  );
  return (
    <div className="mt-2 border-l-4 border-stale bg-well px-3 py-2">
      <p className="text-body">
        <strong>Look again:</strong> {row.said}
      </p>
      <label className="block text-small text-ink-2">
        Note
        <input className="field min-h-11" value={note} onChange={(event) => setNote(event.target.value)} />
      </label>
      <div className="flex flex-wrap gap-x-4">
        {(["good", "bad"] as const).map((outcome) => (
          <button
            key={outcome}
            type="button"
            className="link min-h-11 text-body"
            aria-label={`${outcome === "good" ? "Still good" : "Not good"}: ${row.at_what}`}
            disabled={said.isPending}
            onClick={() => said.mutate(outcome)}
          >
            {outcome === "good" ? "Still good" : "Not good"}
          </button>
        ))}
      </div>
      {said.error && (
        <p role="alert" className="text-care font-semibold text-out">
          {said.error.detail}
        </p>
      )}
    </div>
  );
}
