import { notifyManager, useQueryClient } from "@tanstack/react-query";
import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useSyncExternalStore,
} from "react";
import { answer, api, type Schemas, writeHeaders } from "../api/client";
import { isWaiting, Outbox, type Parcel } from "../api/outbox";
import { photoOf, sendPhoto } from "../api/photos";
import { keys, refresh } from "../api/queries";
import { type Stored, settled } from "../api/rated";
import { sendWrite } from "../api/write";
import { isPhone } from "./isPhone";

const Context = createContext<Outbox | null>(null);

async function send(parcel: Parcel): Promise<Stored | object> {
  if (parcel.write) return sendWrite(parcel.key, parcel.write);
  return parcel.attempt ? sendAttempt(parcel.key, parcel.attempt) : sendReading(parcel);
}

/** An attempt, then its photograph; sent again, neither is there twice. */
async function sendAttempt(key: string, { setupId, body, photo }: NonNullable<Parcel["attempt"]>) {
  const made = await answer(
    api.POST("/api/v1/setups/{setup_id}/prints", {
      params: { path: { setup_id: setupId }, header: writeHeaders(undefined, key) },
      body,
    }),
  );
  if (photo) await sendPhoto(made.id, photoOf(photo), `${key}-photo`);
  return made;
}

async function sendReading(parcel: Parcel): Promise<Stored> {
  const { runId, typed, takenAt, asTyped, key, rated, place, withdrawn } = parcel;
  const params = { path: { run_id: runId }, header: writeHeaders(undefined, key) };
  if (rated) {
    return answer(
      api.POST("/api/v1/runs/{run_id}/ratings", { params, body: { ...rated, taken_at: takenAt } }),
    );
  }
  const stored = await answer(
    api.POST("/api/v1/runs/{run_id}/readings", {
      params,
      body: {
        typed,
        place: place?.place ?? null,
        taken_at: takenAt,
        as_typed: asTyped as Schemas["ReadingIn"]["as_typed"],
      },
    }),
  );
  const own = stored.readings.at(-1);
  if (!withdrawn || !own) return stored;
  return answer(
    api.POST("/api/v1/runs/{run_id}/taken-back", {
      params: { path: { run_id: runId }, header: writeHeaders(undefined, `${key}-back`) },
      body: { readings: [own.id] },
    }),
  );
}

/** The queue of readings of one workshop, alive as long as the page. */
export function OutboxProvider({ workshop, children }: { workshop: string; children: ReactNode }) {
  const queries = useQueryClient();
  const outbox = useMemo(() => new Outbox(workshop, send, notifyManager.batch), [workshop]);
  useEffect(() => {
    const unhear = outbox.onOutcome((outcome) => {
      if (outcome.kind === "stored") {
        const { id } = outcome.stored;
        const place = keys.run(id, false);
        // An answer still on its way was given before this reading, and would take it off the screen again.
        void queries.cancelQueries({ queryKey: place });
        const run = settled(queries.getQueryData<Schemas["RunOut"]>(place), outcome.stored);
        void queries.invalidateQueries({ queryKey: keys.all, refetchType: "none" });
        if (run) queries.setQueryData(place, run);
        else void queries.invalidateQueries({ queryKey: place });
        void queries.invalidateQueries({ queryKey: keys.run(id, true) });
      }
      if (outcome.kind === "logged") void refresh(queries);
      // What is shown of the run is out of date: somebody may have decided it meanwhile.
      if (outcome.kind === "refused") void refresh(queries);
    });
    const flush = () => void outbox.flush();
    flush();
    window.addEventListener("online", flush);
    return () => {
      unhear();
      window.removeEventListener("online", flush);
    };
  }, [outbox, queries]);
  return <Context value={outbox}>{children}</Context>;
}

/** The queue itself. */
export function useOutbox(): Outbox {
  const outbox = useContext(Context);
  if (!outbox) throw new Error("useOutbox needs an OutboxProvider above it.");
  return outbox;
}

/**
 * What the queue holds, kept up to date. Told through the same hand as answers: a reading is sent before the page is drawn
 * again, and leaves the queue in the same drawing in which it is there as stored.
 */
export function useParcels(): readonly Parcel[] {
  const outbox = useOutbox();
  const subscribe = useCallback(
    (listener: () => void) => outbox.subscribe(notifyManager.batchCalls(listener)),
    [outbox],
  );
  return useSyncExternalStore(subscribe, outbox.all);
}

function waitingSaid(parcels: readonly Parcel[]) {
  if (parcels.length === 0) return null;
  const [one, many] = parcels.some((parcel) => parcel.attempt || parcel.write)
    ? ["entry", "entries"]
    : ["reading", "readings"];
  return `${parcels.length} ${parcels.length === 1 ? one : many}`;
}

/** How much waits, and where; and where one is that was refused, if any. */
export function useOutboxState() {
  const parcels = useParcels();
  return {
    waiting: waitingSaid(parcels.filter(isWaiting)),
    refused: parcels.find((parcel) => parcel.refusal !== null),
    where: isPhone() ? "phone" : "laptop",
  };
}
