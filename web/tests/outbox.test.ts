import { beforeEach, expect, test, vi } from "vitest";
import { type Problem, type Schemas, UNREACHABLE } from "../src/api/client";
import { isWaiting, Outbox, type Parcel, pauseAfter, type Send } from "../src/api/outbox";

type Run = Schemas["RunOut"];

const STORED = { id: 4 } as Run;
const REFUSED: Problem = {
  type: "urn:ubrex:impossible",
  title: "Not possible",
  status: 422,
  detail: "No wear or slip does that.",
  code: "invalid",
  fields: [{ field: "typed", message: "Half?", code: "impossible", confirmable: true, suggested: null }],
};

function parcel(key: string, typed: string): Parcel {
  return { key, runId: 4, typed, takenAt: "2026-03-08T10:00:00Z", asTyped: null, refusal: null };
}

/** A browser's storage that can be full. */
class Storage {
  kept = new Map<string, string>();
  full = false;
  getItem = (key: string) => this.kept.get(key) ?? null;
  removeItem = (key: string) => void this.kept.delete(key);
  setItem = (key: string, value: string) => {
    if (this.full) throw new Error("full");
    this.kept.set(key, value);
  };
}

let storage: Storage;
beforeEach(() => {
  storage = new Storage();
  vi.stubGlobal("localStorage", storage);
  vi.useFakeTimers();
});

test("readings arrive one at a time, in the order they were taken, each with its own key", async () => {
  const sent: string[] = [];
  let under = 0;
  const outbox = new Outbox("shop", async ({ key, typed }) => {
    under += 1;
    expect(under).toBe(1);
    await Promise.resolve();
    under -= 1;
    sent.push(`${key} ${typed}`);
    return STORED;
  });
  outbox.add(parcel("a", "98.4"));
  outbox.add(parcel("b", "98.1"));
  outbox.add(parcel("c", "98.6"));
  await outbox.flush();
  expect(sent).toEqual(["a 98.4", "b 98.1", "c 98.6"]);
  expect(outbox.all()).toEqual([]);
});

test("without an answer they wait, are tried again with the same key, and outlive the page", async () => {
  const down: Send = () => Promise.reject(UNREACHABLE);
  const before = new Outbox("shop", down);
  before.add(parcel("a", "98.4"));
  await before.flush();
  expect(before.all()).toHaveLength(1);
  vi.clearAllTimers();

  const keys: string[] = [];
  let up = false;
  const after = new Outbox("shop", ({ key }) => {
    keys.push(key);
    return up ? Promise.resolve(STORED) : Promise.reject(UNREACHABLE);
  });
  await after.flush();
  up = true;
  await vi.advanceTimersByTimeAsync(pauseAfter(1));
  expect(keys).toEqual(["a", "a"]);
  expect(after.all()).toEqual([]);
});

test("a refused one steps aside with its reason and the queue goes on", async () => {
  const outbox = new Outbox("shop", ({ key }) =>
    key === "a" ? Promise.reject(REFUSED) : Promise.resolve(STORED),
  );
  outbox.add(parcel("a", "50"));
  outbox.add(parcel("b", "98.1"));
  await outbox.flush();
  expect(outbox.all()).toHaveLength(1);
  expect(outbox.all()[0]?.refusal).toMatchObject({
    reason: REFUSED.detail,
    code: "impossible",
    confirmable: true,
  });
  outbox.drop("a");
  expect(outbox.all()).toEqual([]);
});

test("a reading leaves the queue and is told as stored in one telling", async () => {
  const heard: string[] = [];
  let inside = false;
  const outbox = new Outbox(
    "shop",
    () => Promise.resolve(STORED),
    (tell) => {
      inside = true;
      tell();
      inside = false;
    },
  );
  outbox.add(parcel("a", "98.4"));
  outbox.subscribe(() => heard.push(`${outbox.all().length} left, together: ${inside}`));
  outbox.onOutcome((outcome) => heard.push(`${outcome.kind}, together: ${inside}`));
  await outbox.flush();
  expect(heard).toEqual(["0 left, together: true", "stored, together: true"]);
});

test("another workshop's readings are not this one's", async () => {
  const first = new Outbox("shop", () => Promise.reject(UNREACHABLE));
  first.add(parcel("a", "98.4"));
  await first.flush();
  expect(new Outbox("other", () => Promise.resolve(STORED)).all()).toEqual([]);
  expect(new Outbox("shop", () => Promise.resolve(STORED)).all()).toHaveLength(1);
});

test("with storage switched off the queue still works, as long as the page lives", async () => {
  storage.full = true;
  let up = false;
  const outbox = new Outbox("shop", () => (up ? Promise.resolve(STORED) : Promise.reject(UNREACHABLE)));
  outbox.add(parcel("a", "98.4"));
  await outbox.flush();
  expect(outbox.all()).toHaveLength(1);
  up = true;
  await outbox.flush();
  expect(outbox.all()).toEqual([]);
});

test("pauses grow and stay at the last", () => {
  const pauses = [1, 2, 3, 4, 5, 50].map(pauseAfter);
  expect(pauses).toEqual([...pauses].sort((a, b) => a - b));
  expect(pauses.at(-1)).toBe(pauses.at(-2));
});

test("what is taken back on its way is sent once more to be struck out, and never shown as waiting", async () => {
  const sent: string[] = [];
  const told: string[] = [];
  const answers: (() => void)[] = [];
  const outbox = new Outbox("shop", async ({ key, withdrawn }) => {
    sent.push(withdrawn ? `${key} back` : key);
    if (sent.length === 1) await new Promise<void>((done) => answers.push(done));
    return STORED;
  });
  outbox.onOutcome(({ kind, parcel: { key } }) => told.push(`${kind} ${key}`));
  outbox.add(parcel("a", "98.4"));
  outbox.add(parcel("b", "98.1"));
  outbox.withdraw("a");
  expect(
    outbox
      .all()
      .filter(isWaiting)
      .map(({ key }) => key),
  ).toEqual(["b"]);
  answers[0]?.();
  await outbox.flush();
  expect(sent).toEqual(["a", "a back", "b"]);
  expect(told).toEqual(["stored a", "stored b"]);
  expect(outbox.all()).toEqual([]);
});
