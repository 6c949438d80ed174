import type { Schemas } from "../../api/client";
import type { BandRating } from "../../api/outbox";

export type Band = Schemas["TowerOut"]["bands"][number];
export type Scale = Schemas["TowerOut"]["scales"][number];
export type Cell = { band: number; key: string };

/** Where a person is in the grid of a tower, and what was counted there so far. */
export type Hand = { at: Cell | null; digits: string };

/** What a key acts on: bands and scales as they are shown, what is asked for next, and what each cell shows. */
export type Grid = {
  bands: readonly Pick<Band, "index">[];
  scales: readonly Pick<Scale, "key" | "most">[];
  waiting: readonly (Cell & { last: boolean })[];
  shown: (cell: Cell) => number | null;
  /** One band at a time, all of its criteria; else one criterion at a time, all bands. */
  bandByBand: boolean;
};

export type HandEvent =
  | { kind: "digit"; figure: number }
  | { kind: "rate"; rating: number }
  | { kind: "enter" }
  | { kind: "clear" }
  | { kind: "move"; cell: Cell }
  | { kind: "step"; rows: number; columns: number };

/** The hand after an event, and the rating it made, if any. */
export type Turn = { hand: Hand; rated: BandRating | null };

/** The largest rating there is; a scale that goes farther is counted. */
const BEST = 4;

/** Whether something is counted and not judged: then digits wait for Enter. */
export function isCounted(scale: Pick<Scale, "most">): boolean {
  return scale.most > BEST;
}

export function next(hand: Hand, event: HandEvent, grid: Grid): Turn {
  const stay = (changed: Partial<Hand> = {}): Turn => ({ hand: { ...hand, ...changed }, rated: null });
  const { at, digits } = hand;
  switch (event.kind) {
    case "move":
      return stay({ at: event.cell, digits: "" });
    case "step":
      return stay({ at: beside(grid, at ?? grid.waiting[0] ?? null, event.rows, event.columns), digits: "" });
    case "rate":
      return at ? rate(grid, at, event.rating) : stay();
    case "digit": {
      const scale = grid.scales.find((row) => row.key === at?.key);
      if (!at || !scale) return stay();
      if (isCounted(scale)) return stay({ digits: `${digits}${event.figure}`.slice(0, 3) });
      return event.figure <= scale.most ? rate(grid, at, event.figure) : stay();
    }
    case "enter": {
      // What was counted is taken; else this band is said to be as the one above.
      if (!at) return stay();
      if (digits !== "") return rate(grid, at, Number(digits));
      const above = grid.bands[row(grid, at.band) - 1];
      const rating = above ? grid.shown({ ...at, band: above.index }) : null;
      return rating === null ? stay() : rate(grid, at, rating);
    }
    case "clear":
      if (digits !== "" || !at || grid.shown(at) === null) return stay({ digits: "" });
      return { hand, rated: { band: at.band, key: at.key, rating: null } };
  }
}

function rate(grid: Grid, at: Cell, rating: number): Turn {
  return { hand: { at: onwards(grid, at), digits: "" }, rated: { band: at.band, key: at.key, rating } };
}

/** Where rating goes on: along the band or the criterion, then wherever something waits, then below. */
function onwards(grid: Grid, from: Cell): Cell {
  const left = grid.waiting.filter((cell) => !same(cell, from) && grid.shown(cell) === null);
  const along = left.filter((cell) =>
    grid.bandByBand ? cell.band === from.band && !cell.last : cell.key === from.key,
  );
  const to = along[0] ?? left[0];
  const below = grid.bands[row(grid, from.band) + 1];
  if (to) return { band: to.band, key: to.key };
  return below ? { ...from, band: below.index } : from;
}

function beside(grid: Grid, here: Cell | null, rows: number, columns: number): Cell | null {
  const column = grid.scales.findIndex((scale) => scale.key === here?.key);
  const band = grid.bands[here ? clamp(row(grid, here.band) + rows, grid.bands.length) : 0];
  const scale = grid.scales[here ? clamp(column + columns, grid.scales.length) : 0];
  return band && scale ? { band: band.index, key: scale.key } : here;
}

function row(grid: Grid, index: number): number {
  return grid.bands.findIndex((band) => band.index === index);
}

export function same(left: Cell | undefined, right: Cell): boolean {
  return left !== undefined && left.band === right.band && left.key === right.key;
}

function clamp(index: number, count: number): number {
  return Math.max(0, Math.min(count - 1, index));
}
