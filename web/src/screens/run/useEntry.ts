import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { newKey, type Schemas } from "../../api/client";
import { isWaiting, type Parcel } from "../../api/outbox";
import { keys } from "../../api/queries";
import { readStored, store } from "../../api/storage";
import { useOutbox, useParcels } from "../../shell/OutboxProvider";
import { usePerson } from "../../shell/Person";
import { askedNow, spotsNow } from "./ahead";
import { type Entry, type EntryEvent, next, PLACE_TAKEN, type Sending } from "./entry";

/**
 * The entry of a run, and what is on its way. A reading goes into the queue at Enter, with the place that is asked for at
 * that moment; entry never waits for the server.
 */
export function useEntry(run: Schemas["RunOut"]) {
  const runId = run.id;
  const draft = `ubrex.draft.${runId}`;
  const outbox = useOutbox();
  const queries = useQueryClient();
  const { ensure } = usePerson();
  const parcels = useParcels().filter((parcel) => parcel.runId === runId);
  const waiting = parcels.filter(isWaiting);
  const [entry, setEntry] = useState<Entry>(() => ({ ...drafted(draft), doubt: null, taken: "" }));
  // Keys and answers may come faster than the page is drawn: what they act on is kept beside what is shown.
  const now = useRef(entry);

  const happen = useCallback(
    (event: EntryEvent) => {
      const step = next(now.current, event);
      now.current = step.entry;
      setEntry(step.entry);
      const { typed, place } = step.entry;
      store(draft, typed === "" ? null : JSON.stringify({ typed, place }));
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
        const { typed, place = null } = parcel;
        if (happen({ kind: "refused", typed, place, problem: outcome.problem }).back) outbox.drop(parcel.key);
      }),
    [outbox, runId, happen],
  );

  /** The place asked for at the moment of a key, which may come before the page is drawn again: of the run as it is kept. */
  const placeNow = () => {
    const kept = queries.getQueryData<Schemas["RunOut"]>(keys.run(runId, false));
    const newest = kept && kept.version > run.version ? kept : run;
    const queued = outbox.all().filter((parcel) => parcel.runId === runId && isWaiting(parcel));
    return askedNow(newest.entry, queued) ?? null;
  };
  const send = (sending: Sending | null) => {
    if (!sending) return;
    outbox.add({ key: newKey(), runId, takenAt: new Date().toISOString(), refusal: null, ...sending });
  };
  const asked = entry.place ?? askedNow(run.entry, waiting) ?? null;

  return {
    ...entry,
    waiting,
    asked,
    spots: spotsNow(run.entry, waiting, asked),
    notPlaced: parcels.filter((parcel) => parcel.refusal !== null),
    change: (text: string) => void happen({ kind: "typed", text, now: placeNow() }),
    take: async () => {
      if (await ensure()) send(happen({ kind: "enter", now: placeNow() }).send);
    },
    takeSuggested: () => send(happen({ kind: "suggested" }).send),
    takeAgain: ({ key, typed, place = null, refusal }: Parcel) => {
      outbox.drop(key);
      const code = refusal?.confirmable ? refusal.code : null;
      const there = refusal?.code === PLACE_TAKEN ? placeNow() : place;
      send(happen({ kind: "again", typed, place: there, code }).send);
    },
    drop: (parcel: Parcel) => outbox.drop(parcel.key),
    withdraw: (parcel: Parcel) => outbox.withdraw(parcel.key),
  };
}

/** What stood in the field when the page was left, and where it was read. */
function drafted(name: string): Pick<Entry, "typed" | "place"> {
  const kept = readStored(name);
  try {
    const { typed, place } = JSON.parse(kept ?? "") as Pick<Entry, "typed" | "place">;
    return { typed: String(typed), place };
  } catch {
    return { typed: "", place: null };
  }
}
