import { useCallback, useEffect, useRef, useState } from "react";
import { type FieldProblem, newKey, type Problem } from "../../api/client";
import type { Parcel } from "../../api/outbox";
import { useOutbox, useParcels } from "../../shell/OutboxProvider";
import { usePerson } from "../../shell/Person";
import { readStored, store } from "../../api/storage";

type Doubt = { typed: string; message: string; code: string; confirmable: boolean; suggested: string | null };

/**
 * The entry of a run: what stands in the field, what was asked about it, and what is on its way.
 * A reading goes into the queue at Enter; entry never waits for the server.
 */
export function useEntry(runId: number) {
  const draftKey = `ubrex.draft.${runId}`;
  const outbox = useOutbox();
  const { ensure } = usePerson();
  const parcels = useParcels().filter((parcel) => parcel.runId === runId);
  const [typed, setTyped] = useState(() => readStored(draftKey) ?? "");
  const [doubt, setDoubt] = useState<Doubt | null>(null);
  const [taken, setTaken] = useState("");
  const field = useRef(typed);

  const change = useCallback(
    (text: string) => {
      field.current = text;
      setTyped(text);
      store(draftKey, text || null);
    },
    [draftKey],
  );

  useEffect(
    () =>
      outbox.onOutcome((outcome) => {
        if (outcome.parcel.runId !== runId) return;
        if (outcome.kind === "stored")
          setTaken(outcome.run.readings.findLast((row) => row.struck === null)?.text ?? "");
        // Back into the field, unless the next number is being typed there already.
        if (outcome.kind === "refused" && field.current === "" && outcome.problem.fields.length > 0) {
          outbox.drop(outcome.parcel.key);
          setDoubt(doubtOf(outcome.parcel.typed, outcome.problem));
          change(outcome.parcel.typed);
        }
      }),
    [outbox, runId, change],
  );

  const put = (text: string, asTyped: FieldProblem["code"] | null) => {
    const parcel: Parcel = {
      key: newKey(),
      runId,
      typed: text,
      takenAt: new Date().toISOString(),
      asTyped,
      refusal: null,
    };
    setDoubt(null);
    change("");
    outbox.add(parcel);
  };

  return {
    typed,
    doubt,
    taken,
    waiting: parcels.filter((parcel) => parcel.refusal === null),
    notPlaced: parcels.filter((parcel) => parcel.refusal !== null),
    change: (text: string) => {
      if (doubt && text !== doubt.typed) setDoubt(null);
      change(text);
    },
    /** Take what stands in the field; a second Enter on the same doubtful number takes it as typed. */
    take: async () => {
      if (!(await ensure())) return;
      const confirmed = doubt?.confirmable && doubt.typed === typed ? doubt.code : null;
      put(typed, confirmed);
    },
    takeSuggested: () => doubt?.suggested && put(doubt.suggested, null),
    takeAgain: (parcel: Parcel) => {
      outbox.drop(parcel.key);
      put(parcel.typed, parcel.refusal?.code ?? null);
    },
    drop: (parcel: Parcel) => outbox.drop(parcel.key),
  };
}

function doubtOf(typed: string, problem: Problem): Doubt {
  const field = problem.fields[0];
  return {
    typed,
    message: field?.message ?? problem.detail,
    code: field?.code ?? problem.code,
    confirmable: field?.confirmable ?? false,
    suggested: field?.suggested ?? null,
  };
}
