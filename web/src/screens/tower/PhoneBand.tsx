import type { Schemas } from "../../api/client";
import { BandDrawing } from "../../instrument/BandDrawing";
import { type Band, isCounted } from "./hand";
import { ScalePanel } from "./ScalePanel";
import { drawn } from "./TowerGrid";
import type { TowerHand } from "./useTower";

type Props = {
  run: Schemas["RunOut"];
  tower: Schemas["TowerOut"];
  hand: TowerHand;
  band: Band;
  onVeto: () => void;
};

/** One band at a time, for one thumb: its drawing, what is rated already, and the scale with its pictures. */
export function PhoneBand({ tower, hand, band, onVeto }: Props) {
  const place = tower.bands.findIndex((row) => row.index === band.index);
  const ratings = Object.fromEntries(
    tower.scales.map((scale) => [scale.key, hand.shown({ band: band.index, key: scale.key })]),
  );
  return (
    <section aria-label={`Band ${band.text} ${tower.unit}`} className="px-3 py-2">
      <div className="flex items-center justify-between gap-2">
        <button
          type="button"
          className="button min-h-12 px-4"
          disabled={place === 0}
          onClick={() => hand.happen({ kind: "step", rows: -1, columns: 0 })}
          aria-label="Band above"
        >
          ↑
        </button>
        <div className="text-center">
          <span className="text-step leading-none font-bold">{band.text}</span> {tower.unit}
          <span className="block text-small text-ink-2">
            {place + 1} of {tower.bands.length} from the top
            {band.in_use ? ", in use" : ""}
            {band.said ? `, ${band.said}` : ""}
          </span>
        </div>
        <button
          type="button"
          className="button min-h-12 px-4"
          disabled={place === tower.bands.length - 1}
          onClick={() => hand.happen({ kind: "step", rows: 1, columns: 0 })}
          aria-label="Band below"
        >
          ↓
        </button>
      </div>
      <div className="my-2 flex items-center gap-3">
        <BandDrawing
          ratings={drawn(ratings, tower.scales)}
          has={tower.scales.map((scale) => scale.key)}
          out={band.out}
          className="h-16 w-32 shrink-0"
        />
        <ul className="flex min-w-0 flex-wrap gap-1">
          {tower.scales.map((scale) => {
            const rating = hand.shown({ band: band.index, key: scale.key });
            return (
              <li key={scale.key}>
                <button
                  type="button"
                  aria-current={hand.at?.key === scale.key || undefined}
                  className="min-h-11 border border-edge px-2 text-small aria-[current=true]:border-2 aria-[current=true]:border-mark aria-[current=true]:bg-well"
                  onClick={() => hand.move({ band: band.index, key: scale.key })}
                >
                  {scale.name} <strong>{rating ?? "·"}</strong>
                </button>
              </li>
            );
          })}
        </ul>
      </div>
      <ScalePanel hand={hand} bandText={band.text} unit={tower.unit} large />
      {hand.scale && isCounted(hand.scale) && <Count key={`${band.index}`} hand={hand} />}
      <button type="button" className="link mt-1 min-h-11 text-body" onClick={onVeto}>
        Take this band out
      </button>
    </section>
  );
}

function Count({ hand }: { hand: TowerHand }) {
  return (
    <form
      className="mt-2 flex gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        const typed = Number(new FormData(event.currentTarget).get("count"));
        hand.rate(typed);
      }}
    >
      <input name="count" inputMode="numeric" aria-label="Strings counted" className="field w-28" required />
      <button type="submit" className="button button-main">
        Take
      </button>
    </form>
  );
}
