import { useRef, useState } from "react";
import { newKey, type Schemas } from "../../api/client";
import type { BandRating } from "../../api/outbox";
import { isPhone } from "../../shell/isPhone";
import { useOutbox, useParcels } from "../../shell/OutboxProvider";
import { usePerson } from "../../shell/Person";

/** What is rated when nothing else is left: it breaks the tower. */
const LAST = "bond";

type Tower = Schemas["TowerOut"];
export type Band = Tower["bands"][number];
export type Cell = { band: number; key: string };

/** Ratings of a tower: where the cursor stands, what is on its way, and what a key does. Nothing waits for the server. */
export function useTower(run: Schemas["RunOut"], tower: Tower) {
  const outbox = useOutbox();
  const { ensure } = usePerson();
  const parcels = useParcels().filter((parcel) => parcel.runId === run.id);
  const [at, setAt] = useState<Cell | null>(tower.waiting[0] ?? null);
  const [digits, setDigits] = useState("");
  // Keys may come faster than the page is drawn: what they act on is kept beside what is shown.
  const now = useRef({ at, digits });
  const said = useRef(new Map<string, number | null>());
  const underWay = parcels.filter((parcel) => parcel.refusal === null && parcel.rated);
  const scaleOf = (cell: Cell | null) => tower.scales.find((row) => row.key === cell?.key);
  const top = (index: number) => tower.bands.findIndex((band) => band.index === index);

  const stored = (cell: Cell) =>
    tower.bands.find((band) => band.index === cell.band)?.cells.find((row) => row.key === cell.key)?.rating ??
    null;
  /** What a cell shows: what was said here and is not drawn as stored yet, what is on its way, else what is stored. */
  const shown = (cell: Cell): number | null => {
    const place = `${cell.band}:${cell.key}`;
    const parcel = outbox.all().findLast((one) => one.runId === run.id && same(one.rated, cell));
    const kept = said.current.get(place);
    if (parcel?.refusal || kept === stored(cell)) said.current.delete(place);
    else if (kept !== undefined) return kept;
    return parcel?.rated && !parcel.refusal ? parcel.rated.rating : stored(cell);
  };
  const count = (figures: string) => {
    now.current.digits = figures;
    setDigits(figures);
  };
  const move = (cell: Cell | null) => {
    count("");
    now.current.at = cell;
    setAt(cell);
  };
  const onwards = (from: Cell) => {
    const left = tower.waiting.filter((cell) => !same(cell, from) && shown(cell) === null);
    const along = left.filter((cell) =>
      isPhone() ? cell.band === from.band && cell.key !== LAST : cell.key === from.key,
    );
    return along[0] ?? left[0] ?? below(from);
  };
  const below = (cell: Cell): Cell => {
    const next = tower.bands[top(cell.band) + 1];
    return next ? { ...cell, band: next.index } : cell;
  };
  const put = async (rated: BandRating, then?: Cell | null) => {
    if (!(await ensure())) return;
    said.current.set(`${rated.band}:${rated.key}`, rated.rating);
    outbox.add({
      key: newKey(),
      runId: run.id,
      typed: rated.rating === null ? "cleared" : `${rated.key} ${rated.rating}`,
      takenAt: new Date().toISOString(),
      asTyped: null,
      rated,
      refusal: null,
    });
    if (then !== undefined) move(then);
  };
  const rate = (rating: number) => {
    const cell = now.current.at;
    if (cell) void put({ ...cell, rating }, onwards(cell));
  };
  /** A digit rates at once; where something is counted it waits for Enter. */
  const digit = (figure: number) => {
    const scale = scaleOf(now.current.at);
    if (!scale) return;
    if (scale.most > 4) count(`${now.current.digits}${figure}`.slice(0, 3));
    else if (figure <= scale.most) rate(figure);
  };
  /** Enter takes what was counted, or says of this band what was said of the one above. */
  const enter = () => {
    const cell = now.current.at;
    if (!cell) return;
    if (now.current.digits !== "") {
      rate(Number(now.current.digits));
      return;
    }
    const above = tower.bands[top(cell.band) - 1];
    const rating = above ? shown({ ...cell, band: above.index }) : null;
    if (rating !== null) rate(rating);
  };
  const clear = () => {
    const cell = now.current.at;
    if (now.current.digits !== "") count("");
    else if (cell && shown(cell) !== null) void put({ ...cell, rating: null });
  };
  const step = (rows: number, columns: number) => {
    const here = now.current.at ?? tower.waiting[0] ?? null;
    if (!here) {
      const [band, first] = [tower.bands[0], tower.scales[0]];
      if (band && first) move({ band: band.index, key: first.key });
      return;
    }
    const row = clamp(top(here.band) + rows, tower.bands.length);
    const column = clamp(
      tower.scales.findIndex((one) => one.key === here.key) + columns,
      tower.scales.length,
    );
    const [band, next] = [tower.bands[row], tower.scales[column]];
    if (band && next) move({ band: band.index, key: next.key });
  };
  return {
    at,
    digits,
    scale: scaleOf(at),
    shown,
    move,
    rate,
    digit,
    enter,
    clear,
    step,
    mark: (band: number, key: string, on: boolean) => void put({ band, key, rating: on ? 1 : null }),
    notSent: underWay.length,
    notPlaced: parcels.filter((parcel) => parcel.refusal !== null),
    drop: (key: string) => outbox.drop(key),
  };
}

export type TowerHand = ReturnType<typeof useTower>;

function same(left: Cell | undefined, right: Cell): boolean {
  return left !== undefined && left.band === right.band && left.key === right.key;
}

function clamp(index: number, count: number): number {
  return Math.max(0, Math.min(count - 1, index));
}
