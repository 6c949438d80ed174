import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";
import type { Schemas } from "../src/api/client";
import { Figure } from "../src/instrument/Figure";
import { StandingGlyph, VerdictGlyph } from "../src/instrument/Glyph";
import { TitleBlock } from "../src/instrument/TitleBlock";

type Standing = Schemas["Standing"];
type Verdict = Schemas["ResultOut"]["verdict"];

const STANDINGS: Standing[] = ["fresh", "ageing", "assumed", "never"];
const VERDICTS: Verdict[] = ["apply", "try", "keep", "repeat", "refuse"];

/** Markup without its colours: what a person who sees none of them is left with. */
function shape(markup: string): string {
  return markup.replace(/class="[^"]*"/, "");
}

test("standings differ by shape, not only by colour, and an unverified one looks like no verified one", () => {
  const verified = STANDINGS.map((standing) =>
    shape(renderToStaticMarkup(<StandingGlyph standing={standing} unverified={false} />)),
  );
  expect(new Set(verified).size).toBe(STANDINGS.length);
  for (const standing of ["fresh", "ageing"] as const) {
    const open = shape(renderToStaticMarkup(<StandingGlyph standing={standing} unverified />));
    expect(verified).not.toContain(open);
  }
});

test("verdicts differ by shape, not only by colour", () => {
  const shapes = VERDICTS.map((verdict) => shape(renderToStaticMarkup(<VerdictGlyph verdict={verdict} />)));
  expect(new Set(shapes).size).toBe(VERDICTS.length);
});

test("glyphs are silent: the word beside them is what is read out", () => {
  for (const standing of STANDINGS) {
    const markup = renderToStaticMarkup(<StandingGlyph standing={standing} unverified={false} />);
    expect(markup).toContain('aria-hidden="true"');
  }
});

test("a value, its ± and its unit never part at the end of a line", () => {
  const markup = renderToStaticMarkup(<Figure text="417.3" halfWidth="± 1.4" unit="steps/mm" />);
  expect(markup).toContain("whitespace-nowrap");
  expect(markup.replace(/<[^>]*>/g, "")).toBe("417.3 ± 1.4 steps/mm");
});

test("a cell that can be changed has a button with the cell's name, and its key is not part of that name", () => {
  const markup = renderToStaticMarkup(
    <TitleBlock cells={[{ label: "Tool", value: "Calliper 2", keyHint: "I", onPress: () => undefined }]} />,
  );
  const button = /<button[^>]*>(.*?)<\/button>/.exec(markup);
  expect(button?.[0]).toContain('aria-label="Tool: change"');
  expect(button?.[1]).toBe("");
});
