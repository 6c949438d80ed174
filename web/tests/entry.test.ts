import { expect, test } from "vitest";
import type { Problem } from "../src/api/client";
import { type Entry, next } from "../src/screens/run/entry";

const EMPTY: Entry = { typed: "", doubt: null, taken: "" };

function refusal(confirmable: boolean, suggested: string | null = null): Problem {
  const fields = [{ field: "typed", code: "unit_slip", message: "Half?", suggested, confirmable }];
  return { type: "", title: "", status: 422, detail: "No.", code: "refused", fields };
}

const refused = (entry: Entry, typed: string, problem: Problem) =>
  next(entry, { kind: "refused", typed, problem });

test("Enter sends what stands in the field and empties it at once", () => {
  const step = next({ ...EMPTY, typed: "98.4" }, { kind: "enter" });
  expect(step).toEqual({ entry: EMPTY, send: { typed: "98.4", asTyped: null }, back: false });
});

test("a doubted reading comes back; Enter again takes it as typed, another number is a new one", () => {
  const doubted = refused(EMPTY, "49.2", refusal(true));
  expect(doubted.back).toBe(true);
  expect(doubted.entry).toMatchObject({ typed: "49.2", doubt: { message: "Half?", code: "unit_slip" } });
  expect(next(doubted.entry, { kind: "enter" }).send).toEqual({ typed: "49.2", asTyped: "unit_slip" });
  const other = next(doubted.entry, { kind: "typed", text: "98.4" }).entry;
  expect(other.doubt).toBeNull();
  expect(next(other, { kind: "enter" }).send).toEqual({ typed: "98.4", asTyped: null });
});

test("what cannot be true is never taken as typed, however often Enter is pressed", () => {
  const { entry } = refused(EMPTY, "0", refusal(false));
  expect(next(entry, { kind: "enter" }).send).toEqual({ typed: "0", asTyped: null });
});

test("what was meant is sent in its place; where nothing was proposed nothing is sent", () => {
  const { entry } = refused(EMPTY, "984", refusal(true, "98.4"));
  expect(next(entry, { kind: "suggested" })).toMatchObject({
    send: { typed: "98.4", asTyped: null },
    entry: EMPTY,
  });
  expect(next(EMPTY, { kind: "suggested" })).toEqual({ entry: EMPTY, send: null, back: false });
});

test("a refused reading does not push out the number being typed, and a run that is over takes none back", () => {
  const typing = { ...EMPTY, typed: "98" };
  expect(refused(typing, "49.2", refusal(true))).toEqual({ entry: typing, send: null, back: false });
  expect(refused(EMPTY, "49.2", { ...refusal(true), fields: [] }).back).toBe(false);
});
