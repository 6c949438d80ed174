import { expect, test } from "vitest";
import {
  layoutStrip,
  MEASURES,
  majorStep,
  rangeOf,
  type Strip,
  type StripSize,
} from "../src/instrument/strip";

const HERO = 1278;
const PHONE = 388;

function reading(number: number): Strip["readings"][number] {
  return { number, text: number.toFixed(2), newest: false };
}

/** Three pieces short of 100 mm; the machine would move by 1.66 % and land on the target. */
function threeShort(change: Partial<Strip> = {}): Strip {
  return {
    unit: "mm",
    measured_name: "fed, mm",
    places: 2,
    step: 0.01,
    target: 100,
    low: 99.5,
    high: 100.5,
    readings: [98.4, 98.1, 98.6].map(reading),
    struck: [],
    mean: 98.367,
    half_width: 0.33,
    usual_scatter: false,
    mean_note: "98.4 ± 0.3 mm",
    before_mean: null,
    before_half_width: null,
    move_to: 100,
    move_note: "+1.66 %",
    plate: { text: "+1.63", beside: "short of 100 mm" },
    proposal_name: "",
    standing: "fresh",
    title: "",
    sentence: "",
    ...change,
  };
}

function spread(layout: ReturnType<typeof layoutStrip>): number[] {
  const { readings, struck, mean, band, move, plate } = layout;
  return [
    ...readings.map((row) => row.x),
    ...struck.map((row) => row.x),
    ...(mean ? [mean.from, mean.x, mean.to] : []),
    ...(band ? [band.from, band.to] : []),
    ...(move ? [move.from, move.to] : []),
    ...(plate ? [plate.x - plate.half, plate.x + plate.half] : []),
  ];
}

test.each([
  ["desk", HERO],
  ["phone", PHONE],
])("three readings, mean, whisker, band, move and plate all lie on the hero strip: %s", (_name, width) => {
  const layout = layoutStrip(threeShort(), "hero", width);
  expect(layout.readings).toHaveLength(3);
  for (const part of [layout.mean, layout.band, layout.move, layout.plate, layout.target]) {
    expect(part).not.toBeNull();
  }
  expect(layout.readings.every((row) => row.off === 0)).toBe(true);
  expect(layout.mean?.openFrom || layout.mean?.openTo).toBe(false);
  for (const x of spread(layout)) {
    expect(x).toBeGreaterThanOrEqual(0);
    expect(x).toBeLessThanOrEqual(width);
  }
});

test("what a plate replaces is never written over the name of its row", () => {
  const strip = threeShort({
    mean: 98.0,
    proposal_name: "To set, steps/mm",
    plate: { text: "410.45", beside: "was 404.27, up 6.18" },
  });
  const { plate } = layoutStrip(strip, "hero", HERO);
  expect(plate?.beside?.anchor).toBe("start");
});

test("px order is number order, and the band's ends fall where its numbers are", () => {
  const layout = layoutStrip(threeShort(), "panel", 600);
  const [a, b, c] = layout.readings.map((row) => row.x);
  expect(b).toBeLessThan(a as number);
  expect(a).toBeLessThan(c as number);
  const { range, band, x0, x9 } = layout;
  if (!range || !band) throw new Error("a strip with a band has a range");
  const at = (value: number) => x0 + ((value - range.lo) / (range.hi - range.lo)) * (x9 - x0);
  expect(band.from).toBeCloseTo(at(99.5), 0);
  expect(band.to).toBeCloseTo(at(100.5), 0);
});

test("equal readings stand side by side, one tick each", () => {
  const readings = [98.4, 98.4, 98.4].map(reading);
  const marks = layoutStrip(threeShort({ readings }), "hero", HERO).readings;
  const gaps = marks.slice(1).map((row, index) => row.x - (marks[index]?.x ?? 0));
  for (const gap of gaps) expect(gap).toBeGreaterThan(MEASURES.hero.readingWidth);
  expect(new Set(marks.map((row) => row.key)).size).toBe(3);
});

test("a struck reading far off never stretches the range: it stands at its end, marked as beyond", () => {
  const calm = rangeOf(threeShort(), "hero", HERO);
  const layout = layoutStrip(
    threeShort({ struck: [{ number: 9.84, note: "9.84, unit slip" }] }),
    "hero",
    HERO,
  );
  expect(layout.range).toEqual(calm);
  expect(layout.struck[0]?.off).toBe(-1);
  expect(layout.struck[0]?.x).toBeGreaterThanOrEqual(layout.x0);
});

test("a range that has grown while measuring does not shrink again", () => {
  const wide = { lo: 96, hi: 103 };
  const range = rangeOf(threeShort(), "hero", HERO, wide);
  expect(range?.lo).toBeLessThanOrEqual(96);
  expect(range?.hi).toBeGreaterThanOrEqual(103);
});

test.each<StripSize>(["inline", "panel", "hero"])("without a band nothing is drawn: %s", (size) => {
  const bare = layoutStrip(threeShort({ low: null, high: null }), size, 400);
  expect(bare.range).toBeNull();
  expect(spread(bare)).toEqual([]);
});

test("inline, the band keeps the middle 64 % whatever was read", () => {
  const layout = layoutStrip(threeShort({ readings: [reading(80)] }), "inline", 206);
  if (!layout.band) throw new Error("an inline strip shows its band");
  expect((layout.band.to - layout.band.from) / (layout.x9 - layout.x0)).toBeCloseTo(0.64, 2);
  expect(layout.readings[0]?.off).toBe(-1);
});

test("major ticks are 1, 2 or 5 times a power of ten, with room for a figure at each", () => {
  for (const span of [0.03, 0.4, 1, 7, 55, 900]) {
    for (const width of [300, 700, 1150]) {
      const step = majorStep(span, width, 17);
      const lead = step / 10 ** Math.floor(Math.log10(step) + 1e-9);
      expect([1, 2, 5]).toContain(Math.round(lead * 1e6) / 1e6);
      expect(span / step).toBeLessThanOrEqual(Math.max(2, width / (17 * 4.2)));
    }
  }
});

test("every figure stands where its number is, and the scale ends at two of them", () => {
  for (const width of [600, 1104, 1280, 1920]) {
    for (let spread = 0.004; spread < 3; spread *= 1.37) {
      const low = 0.45 - spread / 3;
      const readings = [0.45 - spread, 0.45 + spread * 0.73].map(reading);
      const strip = threeShort({
        low,
        high: 0.9 - low,
        target: null,
        mean: 0.45,
        half_width: spread,
        readings,
      });
      const { range, figures, x0, x9 } = layoutStrip(strip, "hero", width);
      if (!range) throw new Error("nothing drawn");
      const at = (value: number) => x0 + ((value - range.lo) / (range.hi - range.lo)) * (x9 - x0);
      for (const { x, text } of figures) expect(Math.abs(at(Number(text)) - x)).toBeLessThan(0.2);
      expect(figures.at(0)?.x).toBeCloseTo(x0, 0);
      expect(figures.at(-1)?.x).toBeCloseTo(x9, 0);
    }
  }
});

test("the words of a mean stand where no reading hangs into them", () => {
  const noted = { mean: 99.9, half_width: 0.1, mean_note: "99.9 ± 0.1" };
  const right = layoutStrip(threeShort({ ...noted, readings: [99.72, 99.9].map(reading) }), "hero", HERO);
  const left = layoutStrip(threeShort({ ...noted, readings: [99.9, 100.2].map(reading) }), "hero", HERO);
  expect([right.meanNote?.anchor, left.meanNote?.anchor]).toEqual(["start", "end"]);
});
