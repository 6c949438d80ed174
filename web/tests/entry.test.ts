import { expect, test } from "vitest";
import type { Problem } from "../src/api/client";
import type { AskedFor } from "../src/api/outbox";
import { type Entry, next } from "../src/screens/run/entry";

const EMPTY: Entry = { typed: "", place: null, doubt: null, taken: "" };
const [A, B] = ["A", "B"].map((place) => ({ place, label: place, reads: place })) as [AskedFor, AskedFor];

function refusal(confirmable: boolean, suggested: string | null = null): Problem {
  const fields = [{ field: "typed", code: "unit_slip", message: "Half?", suggested, confirmable }];
  return { type: "", title: "", status: 422, detail: "No.", code: "refused", fields };
}

const refused = (entry: Entry, typed: string, problem: Problem) =>
  next(entry, { kind: "refused", typed, place: A, problem });

test("Enter sends what stands in the field and empties it at once", () => {
  const step = next({ ...EMPTY, typed: "98.4" }, { kind: "enter", now: A });
  expect(step).toEqual({ entry: EMPTY, send: { typed: "98.4", place: A, asTyped: null }, back: false });
});

test("a doubted reading comes back; Enter again takes it as typed, another number is a new one", () => {
  const doubted = refused(EMPTY, "49.2", refusal(true));
  expect(doubted.back).toBe(true);
  expect(doubted.entry).toMatchObject({ typed: "49.2", doubt: { message: "Half?", code: "unit_slip" } });
  expect(next(doubted.entry, { kind: "enter", now: B }).send).toEqual({
    typed: "49.2",
    place: A,
    asTyped: "unit_slip",
  });
  const other = next(doubted.entry, { kind: "typed", text: "98.4", now: A }).entry;
  expect(other.doubt).toBeNull();
  expect(next(other, { kind: "enter", now: B }).send).toEqual({ typed: "98.4", place: A, asTyped: null });
});

test("what cannot be true is never taken as typed, however often Enter is pressed", () => {
  const { entry } = refused(EMPTY, "0", refusal(false));
  expect(next(entry, { kind: "enter", now: B }).send).toEqual({ typed: "0", place: A, asTyped: null });
});

test("what was meant is sent in its place; where nothing was proposed nothing is sent", () => {
  const { entry } = refused(EMPTY, "984", refusal(true, "98.4"));
  expect(next(entry, { kind: "suggested" })).toMatchObject({
    send: { typed: "98.4", place: A, asTyped: null },
    entry: EMPTY,
  });
  expect(next(EMPTY, { kind: "suggested" })).toEqual({ entry: EMPTY, send: null, back: false });
});

test("a refused reading does not push out the number being typed, and a run that is over takes none back", () => {
  const typing = { ...EMPTY, typed: "98" };
  expect(refused(typing, "49.2", refusal(true))).toEqual({ entry: typing, send: null, back: false });
  expect(refused(EMPTY, "49.2", { ...refusal(true), fields: [] }).back).toBe(false);
});

test("a number belongs to the place that was asked for at its first digit", () => {
  const first = next(EMPTY, { kind: "typed", text: "4", now: A }).entry;
  const second = next(first, { kind: "typed", text: "44", now: B }).entry;
  expect(next(second, { kind: "enter", now: B }).send?.place).toBe(A);
  const emptied = next(second, { kind: "typed", text: "", now: B }).entry;
  expect(next(emptied, { kind: "typed", text: "4", now: B }).entry.place).toBe(B);
});

test("a number whose place was read meanwhile goes where the screen then asks, at a second Enter", () => {
  const fields = [{ field: "typed", code: "place_taken", message: "", suggested: null, confirmable: false }];
  const { entry } = refused(EMPTY, "0.45", { ...refusal(false), fields });
  expect(next(entry, { kind: "enter", now: B }).send).toEqual({ typed: "0.45", place: B, asTyped: null });
});
