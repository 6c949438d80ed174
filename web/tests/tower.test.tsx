import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";
import { BandDrawing } from "../src/instrument/BandDrawing";
import { drawn } from "../src/screens/tower/TowerGrid";

type Scale = Parameters<typeof drawn>[1][number];

function scale(key: string, most: number): Scale {
  return { key, name: key, look: "", counts: "", words: [], sentences: [], most };
}

/** How many strings a band is drawn with. */
function strings(ratings: Record<string, number | null>): number {
  const has = Object.keys(ratings);
  return (
    renderToStaticMarkup(<BandDrawing ratings={ratings} has={has} />).match(/stroke-ink-2/g)?.length ?? 0
  );
}

test("the worse the rating the more strings are drawn, and none for a clean gap or one not rated", () => {
  const drawings = [0, 1, 2, 3, 4].map((rating) => strings({ strings: rating }));
  expect(drawings).toEqual([...drawings].sort((a, b) => b - a));
  expect(new Set(drawings).size).toBe(5);
  expect(drawings.at(-1)).toBe(0);
  expect(strings({ strings: null })).toBe(0);
});

test("what is counted is drawn as the nearest of the five drawings, and clean only if nothing was counted", () => {
  const scales = [scale("strings", 20), scale("gap", 4)];
  const found = [0, 1, 10, 20].map((strings) => drawn({ strings, gap: 3 }, scales));
  expect(found).toEqual([4, 3, 2, 0].map((strings) => ({ strings, gap: 3 })));
  expect(drawn({ strings: null }, scales)).toEqual({ strings: null });
});

test("ratings are drawn as they are where nothing is counted", () => {
  const ratings = { strings: 2, gap: null };
  expect(drawn(ratings, [scale("strings", 4), scale("gap", 4)])).toBe(ratings);
});

test("a band that is out is drawn dashed, a bond that broke has a crack", () => {
  const whole = renderToStaticMarkup(<BandDrawing ratings={{ bond: 4 }} has={["bond"]} />);
  const split = renderToStaticMarkup(<BandDrawing ratings={{ bond: 1 }} has={["bond"]} />);
  const out = renderToStaticMarkup(<BandDrawing ratings={{ bond: 4 }} has={["bond"]} out />);
  expect([whole, split].map((markup) => markup.includes("stroke-out"))).toEqual([false, true]);
  expect([whole, out].map((markup) => markup.includes('stroke-dasharray="4 3"'))).toEqual([false, true]);
});
