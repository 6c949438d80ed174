import { expect, test } from "vitest";
import type { Schemas } from "../src/api/client";
import { settled } from "../src/api/rated";

type Run = Schemas["RunOut"];
type Rating = Schemas["RatingOut"];

const reading = (id: number, struck: string | null = null) =>
  ({ id, position: id, struck }) as Run["readings"][number];

const band = (index: number, score: number | null) =>
  ({ index, score }) as Schemas["TowerOut"]["bands"][number];

const RUN = {
  id: 4,
  version: 7,
  person: "Ada",
  readings: [reading(1), reading(2)],
  finding: null,
  result: null,
  actions: ["rate"],
  body: {
    kind: "rated",
    tower: { unit: "°C", left: "9 left", waiting: [], bands: [band(0, null), band(1, 3)] },
  },
} as unknown as Run;

const RATING = {
  id: 4,
  since: 7,
  version: 9,
  readings: [reading(2, "rated anew"), reading(3)],
  bands: [band(0, 2)],
  waiting: [{ band: 1, key: "gap", last: false }],
  left: "8 left",
  entry: null,
  finding: "Odd.",
  result: null,
  actions: ["rate", "keep"],
} as unknown as Rating;

test("what one rating changed is laid over the run, and everything else of it stays", () => {
  const after = settled(RUN, RATING);
  expect(after).toEqual({
    ...RUN,
    version: 9,
    entry: null,
    finding: "Odd.",
    actions: ["rate", "keep"],
    readings: [reading(1), reading(2, "rated anew"), reading(3)],
    body: {
      kind: "rated",
      tower: {
        unit: "°C",
        left: "8 left",
        waiting: [{ band: 1, key: "gap", last: false }],
        bands: [band(0, 2), band(1, 3)],
      },
    },
  });
});

test("changes to another version than the one shown are not guessed at: the run is asked for anew", () => {
  expect(settled({ ...RUN, version: 8 }, RATING)).toBeNull();
  expect(settled({ ...RUN, version: 6 }, RATING)).toBeNull();
  expect(settled(undefined, RATING)).toBeNull();
});

test("an answer older than what is shown changes nothing, a newer one replaces it", () => {
  const newer = { ...RUN, version: 10 };
  expect(settled(newer, RATING)).toBe(newer);
  expect(settled(newer, RUN)).toBe(newer);
  expect(settled(RUN, newer)).toBe(newer);
  expect(settled(undefined, RUN)).toBe(RUN);
});
