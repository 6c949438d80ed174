import { useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { Field } from "../../shell/Field";
import { useWrite } from "../../shell/useWrite";

/** What is still set for a trial: put back, or kept as a value. */
export function TrialsOpen({ trials }: { trials: readonly Schemas["TrialOut"][] }) {
  return trials.map((row) => <TrialOpen key={row.id} row={row} />);
}

function TrialOpen({ row }: { row: Schemas["TrialOut"] }) {
  const [note, setNote] = useState("");
  const end = useWrite((how: Schemas["TrialEndIn"]["how"]) =>
    answer(
      api.POST("/api/v1/trials/{trial_id}/end", {
        params: { path: { trial_id: row.id }, header: writeHeaders() },
        body: { how, note },
      }),
    ),
  );
  const asked = problemAt(end.error, "how");
  return (
    <div className="mt-2 border-l-4 border-ageing bg-well px-3 py-2">
      <p className="text-body">
        <strong>For this trial only:</strong> {row.name} {row.text}
        {row.otherwise && <>, {row.otherwise} otherwise</>}
      </p>
      {end.error && (
        <p role="alert" className="text-care font-semibold text-out">
          {asked?.message ?? end.error.detail}
        </p>
      )}
      {asked && <Field label="Why it is meant" value={note} onChange={setNote} />}
      <div className="flex flex-wrap gap-x-4">
        <button
          type="button"
          className="link min-h-11 text-body"
          aria-label={`Put back: ${row.name}`}
          disabled={end.isPending}
          onClick={() => end.mutate("put_back")}
        >
          Put back
        </button>
        {row.can_keep && (
          <button
            type="button"
            className="link min-h-11 text-body"
            aria-label={`Keep: ${row.name}`}
            disabled={end.isPending}
            onClick={() => end.mutate("kept")}
          >
            Keep
          </button>
        )}
      </div>
    </div>
  );
}
