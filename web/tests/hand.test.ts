import { expect, test } from "vitest";
import { type Cell, type Grid, type Hand, type HandEvent, next } from "../src/screens/tower/hand";

const cell = (band: number, key: string, last = false) => ({ band, key, last });

/** A tower of three bands, the top one first; `stands`: what is rated, by band and key. */
function grid(stands: Record<string, number> = {}, more: Partial<Grid> = {}): Grid {
  return {
    bands: [{ index: 2 }, { index: 1 }, { index: 0 }],
    scales: [
      { key: "gap", most: 4 },
      { key: "strings", most: 20 },
      { key: "bond", most: 4 },
    ],
    waiting: [cell(2, "gap"), cell(1, "gap"), cell(2, "strings"), cell(2, "bond", true)],
    shown: ({ band, key }: Cell) => stands[`${band}${key}`] ?? null,
    bandByBand: false,
    ...more,
  };
}

const at = (band: number, key: string, digits = ""): Hand => ({ at: { band, key }, digits });
const digit = (figure: number): HandEvent => ({ kind: "digit", figure });
const step = (rows: number, columns: number): HandEvent => ({ kind: "step", rows, columns });

test("a digit rates at once and goes on along the criterion; more than the scale has does nothing", () => {
  expect(next(at(2, "gap"), digit(3), grid())).toEqual({
    hand: at(1, "gap"),
    rated: { band: 2, key: "gap", rating: 3 },
  });
  expect(next(at(2, "gap"), digit(5), grid())).toEqual({ hand: at(2, "gap"), rated: null });
});

test("a rating says where and how much, and nothing else of what the cell was asked for with", () => {
  const asked = { at: cell(2, "bond", true), digits: "" };
  expect(next(asked, digit(1), grid()).rated).toEqual({ band: 2, key: "bond", rating: 1 });
  expect(next(asked, { kind: "clear" }, grid({ "2bond": 1 })).rated).toEqual({
    band: 2,
    key: "bond",
    rating: null,
  });
});

test("band by band goes through what is left of the band, and breaks the tower only when nothing else is left", () => {
  const phone = grid({}, { bandByBand: true });
  expect(next(at(2, "gap"), digit(3), phone).hand).toEqual(at(2, "strings"));
  const rated = grid({ "2strings": 1 }, { bandByBand: true });
  expect(next(at(2, "gap"), digit(3), rated).hand).toEqual(at(1, "gap"));
});

test("what is counted gathers digits until Enter, and Backspace takes them away first", () => {
  const two = next(next(at(2, "strings"), digit(1), grid()).hand, digit(2), grid());
  expect(two).toEqual({ hand: at(2, "strings", "12"), rated: null });
  expect(next(two.hand, { kind: "enter" }, grid()).rated).toEqual({ band: 2, key: "strings", rating: 12 });
  expect(next(two.hand, { kind: "clear" }, grid({ "2strings": 7 }))).toEqual({
    hand: at(2, "strings"),
    rated: null,
  });
});

test("Enter says of a band what was said of the one above, and nothing at the top or below nothing", () => {
  expect(next(at(1, "gap"), { kind: "enter" }, grid({ "2gap": 2 })).rated).toEqual({
    band: 1,
    key: "gap",
    rating: 2,
  });
  expect(next(at(2, "gap"), { kind: "enter" }, grid({ "1gap": 2 })).rated).toBeNull();
  expect(next(at(1, "gap"), { kind: "enter" }, grid()).rated).toBeNull();
});

test("clearing takes back what stands, stays where it is, and does nothing where nothing stands", () => {
  const cleared = next(at(1, "gap"), { kind: "clear" }, grid({ "1gap": 0 }));
  expect(cleared).toEqual({ hand: at(1, "gap"), rated: { band: 1, key: "gap", rating: null } });
  expect(next(at(1, "gap"), { kind: "clear" }, grid()).rated).toBeNull();
});

test("arrows stop at the edges, begin at what waits, and leave digits behind", () => {
  expect(next(at(2, "gap", "1"), step(-1, -1), grid()).hand).toEqual(at(2, "gap"));
  expect(next(at(0, "bond"), step(1, 1), grid()).hand).toEqual(at(0, "bond"));
  expect(next(at(2, "gap"), step(1, 1), grid()).hand).toEqual(at(1, "strings"));
  expect(next({ at: null, digits: "" }, step(1, 0), grid()).hand).toEqual(at(1, "gap"));
  expect(next({ at: null, digits: "" }, step(1, 0), grid({}, { waiting: [] })).hand).toEqual(at(2, "gap"));
});
