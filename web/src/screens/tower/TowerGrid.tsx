import { useEffect, useRef } from "react";
import type { Schemas } from "../../api/client";
import { BandDrawing } from "../../instrument/BandDrawing";
import type { Band, Cell, TowerHand } from "./useTower";

type Bar = { low: number; high: number };
type Tower = Schemas["TowerOut"];
type Props = { tower: Tower; hand?: TowerHand; onBand?: (band: number) => void };

/** Bands and what was said of them: the drawing is made from the ratings, and shares its rows with the table. */
export function TowerGrid({ tower, hand, onBand }: Props) {
  const width = tower.scales.length === 0;
  const scores = tower.bands.flatMap((band) => band.score ?? []);
  // Widths differ by little: their bars begin below the narrowest, not at nothing.
  const bar =
    width && scores.length > 0
      ? { low: 0.8 * Math.min(...scores), high: Math.max(...scores) }
      : { low: 0, high: 4 };
  return (
    <table className="w-full border-collapse text-left">
      <thead>
        <tr className="border-b-[1.5px] border-ink align-bottom">
          <th scope="col" className="w-24 px-2 py-1 text-small font-normal text-ink-2">
            {tower.unit}
          </th>
          {!width && (
            <th scope="col" className="w-30 py-1">
              <span className="sr-only">Drawing</span>
            </th>
          )}
          {tower.scales.map((scale) => (
            <th
              key={scale.key}
              scope="col"
              className={`px-1 pt-1 pb-1.5 text-center leading-tight ${hand?.at?.key === scale.key ? "border-b-[6px] border-press" : ""}`}
            >
              <span
                className={`block text-reason font-[650] ${hand?.at?.key === scale.key ? "text-mark" : ""}`}
              >
                {scale.name}
              </span>
              <span className="block text-floor font-normal text-ink-2">{scale.counts || scale.look}</span>
            </th>
          ))}
          <th scope="col" className="w-48 px-3 py-1 leading-tight">
            <span className="block text-reason font-[650]">{tower.score_name}</span>
            <span className="block text-floor font-normal text-ink-2">
              {width ? "mean of each band" : "0 to 4, with its spread"}
            </span>
          </th>
        </tr>
      </thead>
      <tbody>
        {tower.bands.map((band) => (
          <Row key={band.index} band={band} tower={tower} hand={hand} bar={bar} onBand={onBand} />
        ))}
      </tbody>
    </table>
  );
}

type RowProps = {
  band: Band;
  tower: Tower;
  hand: TowerHand | undefined;
  bar: Bar;
  onBand: ((band: number) => void) | undefined;
};

function Row({ band, tower, hand, bar, onBand }: RowProps) {
  const ratings = Object.fromEntries(
    tower.scales.map((scale) => [
      scale.key,
      hand ? hand.shown({ band: band.index, key: scale.key }) : ratingOf(band, scale.key),
    ]),
  );
  const scales = tower.scales.map((scale) => scale.key);
  return (
    <tr className={`border-b border-rule ${band.inside ? "bg-well" : ""}`}>
      <th scope="row" className="relative px-2 text-left">
        {onBand ? (
          <button
            type="button"
            className={`link min-h-11 text-cell font-bold ${band.out ? "text-ink-3 line-through" : ""}`}
            onClick={() => onBand(band.index)}
          >
            {band.text}
          </button>
        ) : (
          <span className={`text-cell font-bold ${band.out ? "text-ink-3 line-through" : ""}`}>
            {band.text}
          </span>
        )}
        <span className="block text-floor leading-tight font-normal text-ink-2">
          {[
            band.offered ? "best" : band.inside && "will do",
            band.in_use && "in use",
            band.snapped && "snapped",
            band.photos > 0 && photos(band.photos),
          ]
            .filter(Boolean)
            .join(", ")}
        </span>
      </th>
      {tower.scales.length > 0 && (
        <td className="h-(--row) p-0">
          <BandDrawing ratings={ratings} has={scales} out={band.out} className="h-(--row) w-full" />
        </td>
      )}
      {tower.scales.map((scale) => (
        <GridCell
          key={scale.key}
          cell={{ band: band.index, key: scale.key }}
          band={band}
          scale={scale}
          hand={hand}
        />
      ))}
      <td className="px-3">
        {band.said ? (
          <span className="text-body font-[650] text-out">{band.said}</span>
        ) : (
          <Score band={band} bar={bar} />
        )}
        {band.widths && <span className="block text-small whitespace-pre text-ink-2">{band.widths}</span>}
        {band.remark && <span className="block text-floor leading-tight text-stale">{band.remark}</span>}
      </td>
    </tr>
  );
}

type CellProps = { cell: Cell; band: Band; scale: Tower["scales"][number]; hand: TowerHand | undefined };

function GridCell({ cell, band, scale, hand }: CellProps) {
  const here = useRef<HTMLTableCellElement>(null);
  const at = hand?.at?.band === cell.band && hand.at.key === cell.key;
  useEffect(() => {
    if (at) here.current?.focus({ preventScroll: false });
  }, [at]);
  const found = band.cells.find((row) => row.key === cell.key);
  const rating = hand ? hand.shown(cell) : (found?.rating ?? null);
  const word = rating === null ? "" : scale.most > 4 ? `of ${scale.most}` : (scale.words[rating] ?? "");
  const others = found?.others.map((row) => `${row.person} ${row.rating}`).join(", ");
  return (
    <td
      ref={here}
      tabIndex={hand ? (at ? 0 : -1) : undefined}
      data-cell={`${cell.band}:${cell.key}`}
      aria-label={
        hand
          ? `${band.text}, ${scale.name}: ${rating === null ? "not rated" : `${rating}, ${word}`}`
          : undefined
      }
      aria-current={at || undefined}
      onFocus={hand && !at ? () => hand.move(cell) : undefined}
      className={`px-1 text-center leading-none ${hand ? "cursor-pointer" : ""} ${
        at ? "bg-well outline-3 -outline-offset-3 outline-mark" : ""
      }`}
    >
      {at && hand?.digits ? (
        <span className="text-cell font-[650] text-mark">{hand.digits}</span>
      ) : rating === null ? (
        <span className="text-small text-ink-3">{at ? "how good?" : band.missing ? "" : "·"}</span>
      ) : (
        <>
          <span className={`block text-cell font-[650] ${band.out ? "text-ink-3" : ""}`}>{rating}</span>
          <span
            className={`text-floor ${found?.odd ? "text-stale underline decoration-dotted" : "text-ink-2"}`}
          >
            {word}
          </span>
        </>
      )}
      {others && <span className="block text-floor text-ink-3">{others}</span>}
    </td>
  );
}

/** The score as a bar, its spread as a hairline; the band that is offered stands out in blue. */
function Score({ band, bar }: { band: Band; bar: Bar }) {
  if (band.score === null) return null;
  const share = (value: number) =>
    `${Math.max(0, Math.min(100, (100 * (value - bar.low)) / (bar.high - bar.low)))}%`;
  return (
    <span className="flex items-center gap-2">
      <span className="relative h-3 flex-1 border border-edge bg-sheet">
        <span
          className={`absolute inset-y-0 left-0 ${band.offered ? "bg-mark" : "bg-ink"}`}
          style={{ width: share(band.score) }}
        />
        <span
          className="absolute -inset-y-1 border-x border-edge"
          style={{
            left: share(band.score - band.spread),
            right: `calc(100% - ${share(band.score + band.spread)})`,
          }}
        />
      </span>
      <span className={`min-w-10 text-name font-[650] ${band.offered ? "text-mark" : ""}`}>
        {band.score_text}
      </span>
    </span>
  );
}

function ratingOf(band: Band, key: string): number | null {
  return band.cells.find((cell) => cell.key === key)?.rating ?? null;
}

function photos(count: number): string {
  return count === 1 ? "1 photo" : `${count} photos`;
}
