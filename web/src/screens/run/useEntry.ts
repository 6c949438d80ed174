import { useCallback, useEffect, useRef, useState } from "react";
import { newKey } from "../../api/client";
import type { Parcel } from "../../api/outbox";
import { readStored, store } from "../../api/storage";
import { useOutbox, useParcels } from "../../shell/OutboxProvider";
import { usePerson } from "../../shell/Person";
import { type Entry, type EntryEvent, next, type Sending } from "./entry";

/** The entry of a run, and what is on its way. A reading goes into the queue at Enter; entry never waits for the server. */
export function useEntry(runId: number) {
  const draft = `ubrex.draft.${runId}`;
  const outbox = useOutbox();
  const { ensure } = usePerson();
  const parcels = useParcels().filter((parcel) => parcel.runId === runId);
  const [entry, setEntry] = useState<Entry>(() => ({
    typed: readStored(draft) ?? "",
    doubt: null,
    taken: "",
  }));
  // Keys and answers may come faster than the page is drawn: what they act on is kept beside what is shown.
  const now = useRef(entry);

  const happen = useCallback(
    (event: EntryEvent) => {
      const step = next(now.current, event);
      now.current = step.entry;
      setEntry(step.entry);
      store(draft, step.entry.typed || null);
      return step;
    },
    [draft],
  );

  useEffect(
    () =>
      outbox.onOutcome((outcome) => {
        const { parcel } = outcome;
        if (parcel.runId !== runId || parcel.rated) return;
        if (outcome.kind === "stored") {
          const last = outcome.stored.readings.findLast((row) => row.struck === null);
          happen({ kind: "stored", text: last?.text ?? "" });
        }
        if (outcome.kind !== "refused") return;
        if (happen({ kind: "refused", typed: parcel.typed, problem: outcome.problem }).back)
          outbox.drop(parcel.key);
      }),
    [outbox, runId, happen],
  );

  const send = (sending: Sending | null) => {
    if (!sending) return;
    const takenAt = new Date().toISOString();
    outbox.add({ key: newKey(), runId, takenAt, refusal: null, ...sending });
  };

  return {
    ...entry,
    waiting: parcels.filter((parcel) => parcel.refusal === null),
    notPlaced: parcels.filter((parcel) => parcel.refusal !== null),
    change: (text: string) => void happen({ kind: "typed", text }),
    take: async () => {
      if (await ensure()) send(happen({ kind: "enter" }).send);
    },
    takeSuggested: () => send(happen({ kind: "suggested" }).send),
    takeAgain: ({ key, typed, refusal }: Parcel) => {
      outbox.drop(key);
      send(happen({ kind: "again", typed, code: refusal?.code ?? null }).send);
    },
    drop: (parcel: Parcel) => outbox.drop(parcel.key),
  };
}
