import { memo, useEffect, useRef } from "react";
import type { Schemas } from "../../api/client";
import { BandDrawing } from "../../instrument/BandDrawing";
import { type Band, type Cell, isCounted } from "./hand";
import type { TowerHand } from "./useTower";

type Tower = Schemas["TowerOut"];
type Props = { tower: Tower; hand?: TowerHand; onBand?: (band: number) => void };

/** Bands and what was said of them: the drawing is made from the ratings, and shares its rows with the table. */
export function TowerGrid({ tower, hand, onBand }: Props) {
  const width = tower.scales.length === 0;
  const scores = tower.bands.flatMap((band) => band.score ?? []);
  // Widths differ by little: their bars begin below the narrowest, not at nothing.
  const [low, high] = width && scores.length > 0 ? [0.8 * Math.min(...scores), Math.max(...scores)] : [0, 4];
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
          {tower.score_name ? (
            <th scope="col" className="w-48 px-3 py-1 leading-tight">
              <span className="block text-reason font-[650]">{tower.score_name}</span>
              <span className="block text-floor font-normal text-ink-2">
                {width ? "mean of each band" : tower.score_note}
              </span>
            </th>
          ) : (
            <td className="w-48" />
          )}
        </tr>
      </thead>
      <tbody>
        {tower.bands.map((band) => (
          <Row
            key={band.index}
            band={band}
            scales={tower.scales}
            ratings={ratingsOf(band, tower.scales, hand)}
            at={hand?.at?.band === band.index ? hand.at.key : null}
            digits={hand?.at?.band === band.index ? hand.digits : ""}
            low={low}
            high={high}
            onMove={hand?.move}
            onBand={onBand}
          />
        ))}
      </tbody>
    </table>
  );
}

type Ratings = Readonly<Record<string, number | null>>;
type RowProps = {
  band: Band;
  scales: Tower["scales"];
  ratings: Ratings;
  /** What the cursor is on, if it is in this row, and what was typed there so far. */
  at: string | null;
  digits: string;
  low: number;
  high: number;
  onMove: ((cell: Cell) => void) | undefined;
  onBand: ((band: number) => void) | undefined;
};

/** A key press changes a row or two of many: the others are not drawn again. */
const Row = memo(BandRow, sameRow);

function sameRow(before: RowProps, after: RowProps): boolean {
  return (
    before.band === after.band &&
    before.scales === after.scales &&
    before.at === after.at &&
    before.digits === after.digits &&
    before.low === after.low &&
    before.high === after.high &&
    after.scales.every(({ key }) => before.ratings[key] === after.ratings[key])
  );
}

function BandRow({ band, scales, ratings, at, digits, low, high, onMove, onBand }: RowProps) {
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
            // With every rating in, a snapped tab is seen by the rating of how it broke.
            band.snapped && scales.some(({ key }) => ratings[key] == null) && "snapped",
            band.photos > 0 && photos(band.photos),
          ]
            .filter(Boolean)
            .join(", ")}
        </span>
      </th>
      {scales.length > 0 && (
        <td className="relative h-(--row) p-0">
          <BandDrawing
            ratings={drawn(ratings, scales)}
            has={scales.map((scale) => scale.key)}
            out={band.out}
            className="absolute inset-0 size-full"
          />
        </td>
      )}
      {scales.map((scale) => (
        <GridCell
          key={scale.key}
          band={band}
          scale={scale}
          rating={ratings[scale.key] ?? null}
          at={at === scale.key}
          digits={digits}
          onMove={onMove}
        />
      ))}
      <td className="px-3">
        {band.said ? (
          <span className="text-body font-[650] text-out">{band.said}</span>
        ) : (
          <Score band={band} low={low} high={high} />
        )}
        {band.widths && <span className="block text-small whitespace-pre text-ink-2">{band.widths}</span>}
        {band.remark && <span className="block text-floor leading-tight text-stale">{band.remark}</span>}
      </td>
    </tr>
  );
}

type CellProps = {
  band: Band;
  scale: Tower["scales"][number];
  rating: number | null;
  at: boolean;
  digits: string;
  onMove: ((cell: Cell) => void) | undefined;
};

function GridCell({ band, scale, rating, at, digits, onMove }: CellProps) {
  const here = useRef<HTMLTableCellElement>(null);
  useEffect(() => {
    if (at) here.current?.focus({ preventScroll: false });
  }, [at]);
  const found = band.cells.find((row) => row.key === scale.key);
  const word = rating === null ? "" : isCounted(scale) ? `of ${scale.most}` : (scale.words[rating] ?? "");
  const others = found?.others.map((row) => `${row.person} ${row.rating}`).join(", ");
  return (
    <td
      ref={here}
      tabIndex={onMove ? (at ? 0 : -1) : undefined}
      data-cell={`${band.index}:${scale.key}`}
      aria-label={
        onMove
          ? `${band.text}, ${scale.name}: ${rating === null ? "not rated" : `${rating}, ${word}`}`
          : undefined
      }
      aria-current={at || undefined}
      onFocus={onMove && !at ? () => onMove({ band: band.index, key: scale.key }) : undefined}
      className={`px-1 text-center leading-none ${onMove ? "cursor-pointer" : ""} ${
        at ? "bg-well outline-3 -outline-offset-3 outline-mark" : ""
      }`}
    >
      {at && digits ? (
        <span className="text-cell font-[650] text-mark">{digits}</span>
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

/** Ratings as they are drawn: what was counted becomes the nearest of the scale's five drawings. */
export function drawn(ratings: Ratings, scales: Tower["scales"]): Ratings {
  const counted = scales.filter(isCounted);
  if (counted.length === 0) return ratings;
  const nearest = counted.map(({ key, most }) => {
    const count = ratings[key] ?? null;
    return [key, count === null ? null : count === 0 ? 4 : Math.min(3, Math.round(4 * (1 - count / most)))];
  });
  return { ...ratings, ...Object.fromEntries(nearest) };
}

/** The score as a bar, its spread as a hairline; the band that is offered stands out in blue. */
function Score({ band, low, high }: { band: Band; low: number; high: number }) {
  if (band.score === null) return null;
  const share = (value: number) => `${Math.max(0, Math.min(100, (100 * (value - low)) / (high - low)))}%`;
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

function ratingsOf(band: Band, scales: Tower["scales"], hand: TowerHand | undefined): Ratings {
  const stored = (key: string) => band.cells.find((cell) => cell.key === key)?.rating ?? null;
  return Object.fromEntries(
    scales.map(({ key }) => [key, hand ? hand.shown({ band: band.index, key }) : stored(key)]),
  );
}

function photos(count: number): string {
  return count === 1 ? "1 photo" : `${count} photos`;
}
