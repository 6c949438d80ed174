import { type FieldProblem, isProblem, type Problem, type Schemas } from "./client";
import type { Stored } from "./rated";
import { readStored, store } from "./storage";

/** A rating of a band, or a mark on it; null takes back what stands there. */
export type BandRating = { band: number; key: string; rating: number | null };

/** Where a reading is asked for: the key of the place, its name, and the words. */
export type AskedFor = Schemas["AheadOut"];

/** A write at hand: where it goes, what it holds, what it is called, and the screen it belongs to. */
export type Write = { path: string; body: object; what: string; to: string };

/**
 * A reading on its way: waiting to be sent, or refused and waiting for a person. `rated`: it is one of a tower. `withdrawn`:
 * taken back before its answer came; it may be stored already, so it is sent all the same and then taken back there.
 */
export type Parcel = {
  key: string;
  /** An attempt instead of a reading, with its photograph as a data address; `runId` is 0 then. */
  /** A note, a tick or an answer of a case instead of a reading. */
  write?: Write;
  attempt?: { setupId: number; body: Schemas["PrintIn"]; photo: string | null };
  runId: number;
  typed: string;
  place?: AskedFor | null;
  takenAt: string;
  asTyped: FieldProblem["code"] | null;
  rated?: BandRating;
  withdrawn?: true;
  refusal: { reason: string; code: string; confirmable: boolean; suggested: string | null } | null;
};

function isParcel(value: unknown): value is Parcel {
  const { key, runId, typed } = (value ?? {}) as Partial<Parcel>;
  return typeof key === "string" && typeof runId === "number" && typeof typed === "string";
}

/** Whether a reading is shown as waiting to be sent. */
export function isWaiting(parcel: Parcel): boolean {
  return parcel.refusal === null && !parcel.withdrawn;
}

/** What became of one attempt to send. */
export type Outcome =
  | { kind: "logged"; parcel: Parcel }
  | { kind: "stored"; parcel: Parcel; stored: Stored }
  | { kind: "refused"; parcel: Parcel; problem: Problem }
  | { kind: "unsent"; parcel: Parcel };

export type Send = (parcel: Parcel) => Promise<Stored | object>;

const PAUSES_MS = [1000, 2000, 5000, 10000, 30000];

/** Pause before the next attempt, in ms; grows, and stays at the last. */
export function pauseAfter(failures: number): number {
  return PAUSES_MS[Math.min(failures, PAUSES_MS.length) - 1] ?? 0;
}

/** Whether trying again later can help: no answer, a server in trouble, or too many requests. */
export function worthRetrying(problem: Problem): boolean {
  return problem.status === 0 || problem.status >= 500 || problem.status === 429 || problem.status === 401;
}

/**
 * Readings and attempts that are not stored yet, in order, kept in this browser and bound to one workshop.
 * Sends one at a time; a refused one steps aside and the queue goes on.
 */
export class Outbox {
  private listeners = new Set<() => void>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private sending: Promise<void> | null = null;
  private failures = 0;
  private parcels: readonly Parcel[];
  private outcomes = new Set<(outcome: Outcome) => void>();

  /** `together`: how what becomes of an attempt is told at once to all who hear of it. */
  constructor(
    private readonly workshop: string,
    private readonly send: Send,
    private readonly together: (tell: () => void) => void = (tell) => tell(),
  ) {
    this.parcels = this.read();
  }

  /** All parcels of this workshop, waiting and refused; the same array until something changes. */
  all = (): readonly Parcel[] => this.parcels;

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };

  /** Hear what becomes of each attempt. */
  onOutcome(listener: (outcome: Outcome) => void) {
    this.outcomes.add(listener);
    return () => {
      this.outcomes.delete(listener);
    };
  }

  /** Put a reading in and start sending. */
  add(parcel: Parcel) {
    this.write([...this.read(), parcel]);
    void this.flush();
  }

  /** Take a parcel out, whatever its state. */
  drop(key: string) {
    this.write(this.read().filter((parcel) => parcel.key !== key));
  }

  /** Take a reading back that is on its way. */
  withdraw(key: string) {
    this.write(this.read().map((parcel) => (parcel.key === key ? { ...parcel, withdrawn: true } : parcel)));
    void this.flush();
  }

  /** Send what waits, in order, until all is sent or the line is down. */
  flush(): Promise<void> {
    clearTimeout(this.timer);
    this.sending ??= this.sendAll().finally(() => {
      this.sending = null;
    });
    return this.sending;
  }

  private async sendAll() {
    for (let next = this.next(); next; next = this.next()) {
      const outcome = await this.attempt(next);
      this.together(() => this.settle(outcome));
      if (outcome.kind === "unsent") {
        this.failures += 1;
        this.timer = setTimeout(() => void this.flush(), pauseAfter(this.failures));
        return;
      }
      this.failures = 0;
    }
  }

  private async attempt(parcel: Parcel): Promise<Outcome> {
    try {
      const stored = await this.send(parcel);
      return parcel.attempt || parcel.write
        ? { kind: "logged", parcel }
        : { kind: "stored", parcel, stored: stored as Stored };
    } catch (error) {
      if (!isProblem(error) || worthRetrying(error)) return { kind: "unsent", parcel };
      return { kind: "refused", parcel, problem: error };
    }
  }

  private settle(outcome: Outcome) {
    const withdrawn = this.read().some((parcel) => parcel.key === outcome.parcel.key && parcel.withdrawn);
    if (withdrawn && outcome.kind === "refused") return this.drop(outcome.parcel.key);
    // Taken back while it was sent: it stays in the queue, and goes once more to be struck out.
    if (withdrawn && outcome.kind === "stored" && !outcome.parcel.withdrawn) return;
    if (outcome.kind === "stored" || outcome.kind === "logged") this.drop(outcome.parcel.key);
    if (outcome.kind === "refused") this.refuse(outcome.parcel.key, outcome.problem);
    for (const listener of this.outcomes) listener(outcome);
  }

  private refuse(key: string, problem: Problem) {
    const field = problem.fields[0];
    const refusal = {
      reason: problem.detail,
      code: field?.code ?? problem.code,
      confirmable: field?.confirmable ?? false,
      suggested: field?.suggested ?? null,
    };
    this.write(this.read().map((parcel) => (parcel.key === key ? { ...parcel, refusal } : parcel)));
  }

  private next(): Parcel | undefined {
    return this.read().find((parcel) => parcel.refusal === null);
  }

  /** Always from storage: another tab may have added or sent something. */
  private read(): Parcel[] {
    const kept = readStored(this.place);
    if (kept === null) return [...this.memory];
    try {
      const parcels: unknown = JSON.parse(kept);
      if (Array.isArray(parcels)) return parcels.filter(isParcel);
    } catch {
      // Falls through: what cannot be read is put beside, so that somebody may still find a number in it.
    }
    store(`${this.place}.unreadable`, kept);
    store(this.place, null);
    return [];
  }

  /** Where storage is switched off, the queue lives as long as the page. */
  private memory: readonly Parcel[] = [];

  private write(parcels: readonly Parcel[]) {
    this.memory = store(this.place, JSON.stringify(parcels)) ? [] : parcels;
    this.parcels = parcels;
    for (const listener of this.listeners) listener();
  }

  private get place() {
    return `ubrex.outbox.${this.workshop}`;
  }
}
