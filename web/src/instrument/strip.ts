import type { Schemas } from "../api/client";

export type Strip = Schemas["StripOut"];
export type StripSize = "inline" | "panel" | "hero";
export type Range = { lo: number; hi: number };

/** Measures of one size, in px; y runs down from the top. */
export type Measures = {
  height: number;
  padLeft: number;
  padRight: number;
  figures: number | null;
  figureSize: number;
  bandTop: number;
  datum: number;
  tick: readonly [minor: number, mid: number, major: number];
  readingTop: number;
  readingLength: number;
  readingWidth: number;
  whisker: number;
  cap: number;
  lozenge: number;
  move: number;
  stopWidth: number;
  serif: number;
  pitch: number;
  secondDatum: number | null;
};

export const MEASURES: Record<StripSize, Measures> = {
  inline: {
    height: 20,
    padLeft: 3,
    padRight: 3,
    figures: null,
    figureSize: 0,
    bandTop: 1.5,
    datum: 9,
    tick: [0, 0, 0],
    readingTop: 10.5,
    readingLength: 4,
    readingWidth: 1.5,
    whisker: 16.75,
    cap: 2.75,
    lozenge: 3.25,
    move: 5,
    stopWidth: 2,
    serif: 4,
    pitch: 2.5,
    secondDatum: null,
  },
  panel: {
    height: 56,
    padLeft: 16,
    padRight: 16,
    figures: 22,
    figureSize: 14,
    bandTop: 26,
    datum: 36,
    tick: [3, 5, 8],
    readingTop: 38,
    readingLength: 7,
    readingWidth: 2,
    whisker: 50.5,
    cap: 4,
    lozenge: 5,
    move: 4,
    stopWidth: 2.5,
    serif: 6,
    pitch: 4,
    secondDatum: null,
  },
  hero: {
    height: 120,
    padLeft: 104,
    padRight: 24,
    figures: 36,
    figureSize: 17,
    bandTop: 42,
    datum: 60,
    tick: [5, 8, 13],
    readingTop: 63,
    readingLength: 15,
    readingWidth: 3,
    whisker: 86,
    cap: 6,
    lozenge: 7,
    move: 11,
    stopWidth: 3,
    serif: 9,
    pitch: 7,
    secondDatum: 97,
  },
};

const PHONE_WIDTH = 640;
const BAND_SHARE_INLINE = 0.64;
const MOST_BAND_WIDTHS = 8;
const FIGURE_ROOM = 2.9;
const SMALLEST_MINOR_PX = 8;
const SHORTEST_MOVE_PX = 7;
const LETTER = 0.52;

/** Size of the name that stands at the left of the plate's row. */
export const NAME_SIZE = 14;

/** Measures of a size at a width: a phone drops the row names and the room for them. */
export function measuresFor(size: StripSize, width: number): Measures {
  const measures = MEASURES[size];
  return size === "hero" && width < PHONE_WIDTH ? { ...measures, padLeft: 8, padRight: 8 } : measures;
}

/** Distance between major ticks: 1, 2 or 5 times a power of ten, with room for a figure at each. */
export function majorStep(span: number, widthPx: number, figurePx: number): number {
  const most = Math.max(2, Math.floor(widthPx / (figurePx * 4.2)));
  const power = 10 ** Math.floor(Math.log10(span / most));
  return [1, 2, 5, 10].map((factor) => factor * power).find((step) => span / step <= most) ?? 10 * power;
}

/** Range a strip must show before it is rounded out to its ticks. */
export function needed(strip: Strip): Range | null {
  const { low, high, readings, step, mean, half_width: halfWidth } = strip;
  if (low === null || high === null) return null;
  const bandWidth = high - low;
  const marks = readings.flatMap(({ number }) => [number - step / 2, number + step / 2]);
  const means = mean === null ? [] : [mean - (halfWidth ?? 0), mean + (halfWidth ?? 0)];
  const before =
    strip.before_mean === null
      ? []
      : [
          strip.before_mean - (strip.before_half_width ?? 0),
          strip.before_mean + (strip.before_half_width ?? 0),
        ];
  const lo = Math.min(low - bandWidth / 2, ...marks, ...means, ...before);
  const hi = Math.max(high + bandWidth / 2, ...marks, ...means, ...before);
  const centre = (low + high) / 2;
  const reach = (MOST_BAND_WIDTHS * bandWidth) / 2;
  return { lo: Math.max(lo, centre - reach), hi: Math.min(hi, centre + reach) };
}

/** Range shown at a size: the band in the middle 64 % inline; elsewhere the smallest that holds everything. */
export function rangeOf(strip: Strip, size: StripSize, width: number, grown?: Range): Range | null {
  const need = needed(strip);
  if (need === null || strip.low === null || strip.high === null) return null;
  if (size === "inline") {
    const side = ((strip.high - strip.low) * (1 - BAND_SHARE_INLINE)) / BAND_SHARE_INLINE / 2;
    return { lo: strip.low - side, hi: strip.high + side };
  }
  const lo = Math.min(need.lo, grown?.lo ?? need.lo);
  const hi = Math.max(need.hi, grown?.hi ?? need.hi);
  const measures = measuresFor(size, width);
  // Rounded out to its ticks it is wider, and wider ticks may be due: again, until it ends at ticks that stay.
  for (let range = { lo, hi }; ; ) {
    const major = majorStep(
      range.hi - range.lo,
      width - measures.padLeft - measures.padRight,
      measures.figureSize,
    );
    const out = {
      lo: roundTo(Math.floor(lo / major + 1e-9) * major),
      hi: roundTo(Math.ceil(hi / major - 1e-9) * major),
    };
    if (out.lo >= range.lo && out.hi <= range.hi) return out;
    range = out;
  }
}

export type Tick = { x: number; length: number; major: boolean };
export type Figure = { x: number; text: string };
export type ReadingMark = { key: string; x: number; newest: boolean; off: -1 | 0 | 1 };
export type Interval = {
  x: number;
  from: number;
  to: number;
  openFrom: boolean;
  openTo: boolean;
  off: -1 | 0 | 1;
};
export type Words = { x: number; text: string; anchor: "start" | "end" };

/** Everything a strip draws, in px. */
export type StripLayout = {
  measures: Measures;
  range: Range | null;
  x0: number;
  x9: number;
  band: { from: number; to: number; stopFrom: boolean; stopTo: boolean } | null;
  target: { x: number; text: string } | null;
  ticks: Tick[];
  figures: Figure[];
  readings: ReadingMark[];
  struck: (ReadingMark & { note: Words | null })[];
  mean: Interval | null;
  before: Interval | null;
  meanNote: Words | null;
  move: { from: number; to: number; note: Words | null } | null;
  plate: { x: number; half: number; text: string; beside: Words | null } | null;
};

/** Lay a strip out at a size and width: data in, px out, nothing drawn. */
export function layoutStrip(strip: Strip, size: StripSize, width: number, grown?: Range): StripLayout {
  const measures = measuresFor(size, width);
  const range = rangeOf(strip, size, width, grown);
  const x0 = measures.padLeft;
  const x9 = width - measures.padRight;
  const bare: StripLayout = {
    measures,
    range,
    x0,
    x9,
    band: null,
    target: null,
    ticks: [],
    figures: [],
    readings: [],
    struck: [],
    mean: null,
    before: null,
    meanNote: null,
    move: null,
    plate: null,
  };
  if (range === null || strip.low === null || strip.high === null) return bare;
  const scale = (x9 - x0) / (range.hi - range.lo);
  const x = (value: number) => round1(x0 + (clamp(value, range) - range.lo) * scale);
  const target =
    strip.target === null ? null : { x: x(strip.target), text: strip.target.toFixed(strip.places) };
  const readings = readingMarks(strip, x, range, measures, scale);
  const mean = interval(strip.mean, strip.half_width, x, range);
  const room = { x0: size === "hero" ? 0 : x0, x9: width };
  return {
    ...bare,
    band: {
      from: x(strip.low),
      to: x(strip.high),
      stopFrom: strip.low > range.lo,
      stopTo: strip.high < range.hi,
    },
    target,
    ...scaleMarks(size, range, x, measures, target?.x ?? null, width),
    readings,
    struck:
      size === "inline"
        ? strip.struck.map((row) => ({ ...mark(row.number, x, range), newest: false, note: null }))
        : struckMarks(strip, x, range, readings, size, room),
    mean,
    before: interval(strip.before_mean, strip.before_half_width, x, range),
    meanNote:
      size === "hero" && mean?.off === 0 && strip.mean_note !== "" && width >= PHONE_WIDTH
        ? besides(mean.from, mean.to, strip.mean_note, 16, room, readings)
        : null,
    move: moveOf(strip, mean, x, size, room),
    plate: plateOf(strip, size, mean, room),
  };
}

function scaleMarks(
  size: StripSize,
  range: Range,
  x: (value: number) => number,
  measures: Measures,
  targetX: number | null,
  width: number,
): { ticks: Tick[]; figures: Figure[] } {
  if (size === "inline" || measures.figures === null) return { ticks: [], figures: [] };
  const inner = width - measures.padLeft - measures.padRight;
  const span = range.hi - range.lo;
  const major = majorStep(span, inner, measures.figureSize);
  const perMajor = [10, 5, 2].find((parts) => (inner * major) / span / parts >= SMALLEST_MINOR_PX) ?? 1;
  const ticks: Tick[] = [];
  const figures: Figure[] = [];
  const places = Math.max(0, -Math.floor(Math.log10(major) + 1e-9));
  const first = Math.round(range.lo / major) * perMajor;
  const last = Math.round(range.hi / major) * perMajor;
  for (let index = first; index <= last; index += 1) {
    const at = x((index * major) / perMajor);
    const isMajor = index % perMajor === 0;
    const isMid = perMajor === 10 && index % 5 === 0;
    ticks.push({ x: at, length: measures.tick[isMajor ? 2 : isMid ? 1 : 0], major: isMajor });
    const clear = targetX === null || Math.abs(at - targetX) >= FIGURE_ROOM * measures.figureSize;
    if (isMajor && clear) figures.push({ x: at, text: ((index * major) / perMajor).toFixed(places) });
  }
  return { ticks, figures };
}

/** One tick a reading; equal ones stand side by side within the instrument's own step. */
function readingMarks(
  strip: Strip,
  x: (value: number) => number,
  range: Range,
  measures: Measures,
  scale: number,
): ReadingMark[] {
  const same = (a: number, b: number) => Math.abs(a - b) < 1e-6;
  const stepPx = Math.max(strip.step * scale, measures.pitch);
  return strip.readings.map((reading, index) => {
    const equal = strip.readings.filter(({ number }) => same(number, reading.number)).length;
    const place = strip.readings.slice(0, index).filter(({ number }) => same(number, reading.number)).length;
    const pitch =
      equal > 1 ? Math.min(measures.pitch, Math.max(measures.readingWidth + 1, stepPx / (equal - 1))) : 0;
    const at = mark(reading.number, x, range);
    return {
      ...at,
      x: round1(at.x + (place - (equal - 1) / 2) * pitch),
      key: `${reading.number}#${place}`,
      newest: reading.newest,
    };
  });
}

/** Struck readings never stretch the range: beyond it they stand at its end. */
function struckMarks(
  strip: Strip,
  x: (value: number) => number,
  range: Range,
  live: ReadingMark[],
  size: StripSize,
  room: Range2,
): StripLayout["struck"] {
  return strip.struck.map((row) => {
    const at = mark(row.number, x, range);
    const inside = at.off === 0 ? at.x : at.x - at.off * 9;
    const length = row.note.length * 17 * LETTER;
    const right =
      inside + 16 + length < room.x9 &&
      !live.some((other) => other.x > inside && other.x < inside + 24 + length);
    const left =
      inside - 16 - length > room.x0 &&
      !live.some((other) => other.x < inside && other.x > inside - 24 - length);
    const note: Words | null =
      size !== "hero" || !(right || left)
        ? null
        : right
          ? { x: inside + 16, text: row.note, anchor: "start" }
          : { x: inside - 16, text: row.note, anchor: "end" };
    return { ...at, x: round1(inside), newest: false, note };
  });
}

function mark(value: number, x: (value: number) => number, range: Range): ReadingMark {
  return {
    key: String(value),
    x: x(value),
    newest: false,
    off: value < range.lo ? -1 : value > range.hi ? 1 : 0,
  };
}

function interval(
  mean: number | null,
  halfWidth: number | null,
  x: (value: number) => number,
  range: Range,
): Interval | null {
  if (mean === null) return null;
  const reach = halfWidth ?? 0;
  return {
    x: x(mean),
    from: x(mean - reach),
    to: x(mean + reach),
    openFrom: mean - reach < range.lo,
    openTo: mean + reach > range.hi,
    off: mean < range.lo ? -1 : mean > range.hi ? 1 : 0,
  };
}

function moveOf(
  strip: Strip,
  mean: Interval | null,
  x: (value: number) => number,
  size: StripSize,
  room: Range2,
): StripLayout["move"] {
  if (strip.move_to === null || mean === null) return null;
  const to = x(strip.move_to);
  if (Math.abs(to - mean.x) <= SHORTEST_MOVE_PX) return null;
  const tail =
    size !== "inline" && strip.move_note !== ""
      ? beside(mean.x, strip.move_note, size === "hero" ? 17 : 14, room, to > mean.x ? "end" : "start")
      : null;
  const note =
    tail ??
    (size === "inline" || strip.move_note === ""
      ? null
      : beside(to, strip.move_note, size === "hero" ? 17 : 14, room, to > mean.x ? "start" : "end"));
  return { from: mean.x, to, note };
}

function plateOf(strip: Strip, size: StripSize, mean: Interval | null, room: Range2): StripLayout["plate"] {
  if (size !== "hero" || !strip.plate || mean === null) return null;
  const half = (strip.plate.text.length * 17 * 0.6) / 2 + 12;
  const at = clamp(mean.x, { lo: room.x0 + half, hi: room.x9 - half });
  return {
    x: at,
    half,
    text: strip.plate.text,
    beside: besides(at - half, at + half, strip.plate.beside, 16, {
      x0: afterName(strip, room.x9),
      x9: room.x9,
    }),
  };
}

/** Where the name of the plate's row ends; a phone drops it. */
function afterName(strip: Strip, width: number): number {
  return width >= PHONE_WIDTH ? strip.proposal_name.length * NAME_SIZE * LETTER : 0;
}

type Range2 = { x0: number; x9: number };

/** Words to the left of `from`, else to the right of `to`, else nowhere; rather where no reading hangs into them. */
function besides(
  from: number,
  to: number,
  text: string,
  size: number,
  room: Range2,
  readings: readonly { x: number }[] = [],
): Words | null {
  const sides = [beside(from, text, size, room, "end"), beside(to, text, size, room, "start")].filter(
    (side) => side !== null,
  );
  const length = text.length * size * LETTER;
  const clear = ({ x, anchor }: Words) =>
    readings.every((reading) =>
      anchor === "end" ? reading.x < x - length || reading.x > x : reading.x < x || reading.x > x + length,
    );
  return sides.find(clear) ?? sides[0] ?? null;
}

function beside(at: number, text: string, size: number, room: Range2, anchor: Words["anchor"]): Words | null {
  const length = text.length * size * LETTER + 12;
  if (anchor === "end") return at - length > room.x0 ? { x: at - 12, text, anchor } : null;
  return at + length < room.x9 ? { x: at + 12, text, anchor } : null;
}

function clamp(value: number, { lo, hi }: Range): number {
  return Math.max(lo, Math.min(hi, value));
}

function round1(value: number): number {
  return Math.round(value * 10) / 10;
}

function roundTo(value: number): number {
  return Number(value.toPrecision(12));
}
