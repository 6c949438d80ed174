import { useState } from "react";
import { answer, api, newKey, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { sendPhoto } from "../../api/photos";
import { useWrite } from "../../shell/useWrite";

/** What shows only later and whose day has come: still good, or not. */
export function LooksDue({ looks }: { looks: readonly Schemas["LookAgainOut"][] }) {
  return looks.map((row) => <LookDue key={row.id} row={row} />);
}

function LookDue({ row }: { row: Schemas["LookAgainOut"] }) {
  const [note, setNote] = useState("");
  const [key] = useState(newKey);
  const [photo, setPhoto] = useState<File | null>(null);
  const said = useWrite(async (outcome: Schemas["LookedIn"]["outcome"]) => {
    // The photograph first: one that cannot be read is said before the look is answered.
    if (photo) await sendPhoto(row.print_id, photo, key, row.at_what);
    return answer(
      api.POST("/api/v1/looks/{look_id}", {
        params: { path: { look_id: row.id }, header: writeHeaders() },
        body: { outcome, note },
      }),
    );
  });
  return (
    <div className="mt-2 border-l-4 border-stale bg-well px-3 py-2">
      <p className="text-body">
        <strong>Look again:</strong> {row.said}
      </p>
      <label className="no-print block text-small text-ink-2">
        Note
        <input className="field min-h-11" value={note} onChange={(event) => setNote(event.target.value)} />
      </label>
      <label className="no-print mt-1 block text-small text-ink-2">
        Photo
        <input
          type="file"
          className="picker"
          accept="image/png,image/jpeg,image/webp"
          onChange={(event) => setPhoto(event.target.files?.[0] ?? null)}
        />
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
          {problemAt(said.error, "photo")?.message ?? said.error.detail}
        </p>
      )}
    </div>
  );
}
