import { useRef, useState } from "react";
import { newKey, type Schemas } from "../../api/client";
import type { BandRating } from "../../api/outbox";
import { isPhone } from "../../shell/isPhone";
import { useOutbox, useParcels } from "../../shell/OutboxProvider";
import { usePerson } from "../../shell/Person";
import { type Cell, type Hand, type HandEvent, next, same } from "./hand";

/** Ratings of a tower: where the hand is, what is on its way, and what a key does. Nothing waits for the server. */
export function useTower(run: Schemas["RunOut"], tower: Schemas["TowerOut"]) {
  const outbox = useOutbox();
  const { ensure } = usePerson();
  const parcels = useParcels().filter((parcel) => parcel.runId === run.id);
  const [hand, setHand] = useState<Hand>(() => ({ at: tower.waiting[0] ?? null, digits: "" }));
  // Keys may come faster than the page is drawn: what they act on is kept beside what is shown.
  const now = useRef(hand);
  const said = useRef(new Map<string, number | null>());

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
  const put = (rated: BandRating) => {
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
  };
  const happen = async (event: HandEvent) => {
    const turn = next(now.current, event, { ...tower, shown, bandByBand: isPhone() });
    if (turn.rated && !(await ensure())) return;
    if (turn.rated) put(turn.rated);
    now.current = turn.hand;
    setHand(turn.hand);
  };
  return {
    ...hand,
    scale: tower.scales.find((row) => row.key === hand.at?.key),
    shown,
    happen: (event: HandEvent) => void happen(event),
    move: (cell: Cell) => void happen({ kind: "move", cell }),
    rate: (rating: number) => void happen({ kind: "rate", rating }),
    mark: async (band: number, key: string, on: boolean) => {
      if (await ensure()) put({ band, key, rating: on ? 1 : null });
    },
    notSent: parcels.filter((parcel) => parcel.refusal === null && parcel.rated).length,
    notPlaced: parcels.filter((parcel) => parcel.refusal !== null),
    drop: (key: string) => outbox.drop(key),
  };
}

export type TowerHand = ReturnType<typeof useTower>;
