import { BandDrawing } from "../../instrument/BandDrawing";
import { KeyHint } from "../../instrument/KeyHint";
import { keyOf, WAYS } from "../run/actions";
import { isCounted } from "./hand";
import type { TowerHand } from "./useTower";

type Props = { hand: TowerHand; bandText: string; unit: string; large?: boolean };

/** The scale of what is looked at now: for each figure of its scale a drawing, a word and a sentence. Pressing one rates. */
export function ScalePanel({ hand, bandText, unit, large = false }: Props) {
  const { scale, at } = hand;
  if (!scale || !at) return null;
  const rating = hand.shown(at);
  return (
    <section aria-label="Scale">
      <h2 className="mb-1 flex items-baseline gap-2 text-name leading-tight">
        <span className="bg-press px-2 font-bold whitespace-nowrap text-on-press">
          {bandText} {unit}
        </span>
        <span>
          {scale.name} <span className="text-small font-normal text-ink-2">{scale.look}</span>
        </span>
      </h2>
      {isCounted(scale) ? (
        <p className="text-body">
          {scale.sentences[0]} <strong>0 to {scale.most}.</strong>
        </p>
      ) : (
        <ul className={large ? "space-y-1.5" : ""}>
          {[4, 3, 2, 1, 0].slice(4 - scale.most).map((figure) => (
            <li key={figure}>
              <button
                type="button"
                onClick={() => hand.rate(figure)}
                aria-pressed={rating === figure}
                className={`flex w-full cursor-pointer items-center gap-2 border text-left aria-pressed:border-mark aria-pressed:bg-well ${
                  large ? "min-h-15 border-edge px-2" : "min-h-11 border-transparent px-1 hover:border-edge"
                }`}
              >
                <span className="w-5 text-center text-name font-bold">{figure}</span>
                <BandDrawing
                  ratings={{ [scale.key]: figure }}
                  has={[scale.key]}
                  className={large ? "h-12 w-20 shrink-0" : "h-8 w-14 shrink-0"}
                />
                <span className="min-w-0 leading-tight">
                  <span className="block text-body font-[650]">{scale.words[figure]}</span>
                  <span className="block text-floor text-ink-2">{scale.sentences[figure]}</span>
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
      <div className="mt-1 flex flex-wrap gap-x-5 text-small">
        <button type="button" className="link min-h-11" onClick={() => hand.happen({ kind: "enter" })}>
          As the band above <KeyHint>Enter</KeyHint>
        </button>
        {rating !== null && (
          <button type="button" className="link min-h-11" onClick={() => hand.happen({ kind: "clear" })}>
            {WAYS.clear.button} <KeyHint>{keyOf("clear")}</KeyHint>
          </button>
        )}
      </div>
    </section>
  );
}
