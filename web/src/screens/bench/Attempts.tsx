import { useState } from "react";
import { Link } from "react-router";
import { useAttemptForm, useAttemptsNow } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { dayOf } from "../../shell/dates";
import { LooksDue } from "../attempts/LooksDue";
import { Printing } from "../attempts/Printing";
import { TrialsOpen } from "../attempts/TrialsOpen";
import { AttemptDialog } from "./laterDialogs";

/** In the margin: the part that is being tuned, its last three attempts, what to put back, what to look at again. */
export function Attempts({ setupId, removed }: { setupId: number; removed: boolean }) {
  const now = useAttemptsNow(setupId).data;
  // Fetched ahead: a shed without signal must not lack it.
  useAttemptForm(setupId);
  const [writing, setWriting] = useState(false);
  const part = now?.part;
  return (
    <section className="mb-3 border-b border-rule pb-3">
      <h2 className="mb-1 text-name">{part ? part.what : "Attempts"}</h2>
      {part && (
        <ul>
          {part.attempts.map((row) => (
            <li key={row.id} className="text-body">
              <Link to={`/attempts/${row.id}`} className="link">
                {row.number}
              </Link>{" "}
              {row.said} <span className="text-small text-ink-2">{dayOf(row.happened_at)}</span>
            </li>
          ))}
        </ul>
      )}
      {!removed && (
        <button type="button" className="button mt-2 w-full" onClick={() => setWriting(true)}>
          Attempt <KeyHint>A</KeyHint>
        </button>
      )}
      {!removed && <Printing setupId={setupId} onWrite={() => setWriting(true)} />}
      {now && <TrialsOpen trials={now.trials} />}
      {now && <LooksDue looks={now.looks} />}
      <Link className="link mt-1 flex min-h-11 items-center text-body" to={`/setups/${setupId}/prints`}>
        What was printed
      </Link>
      {writing && <AttemptDialog setupId={setupId} onClose={() => setWriting(false)} />}
    </section>
  );
}
