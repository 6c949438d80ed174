import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../src/api/client";
import { PiecePlan, PieceSide } from "../src/instrument/PiecePlan";

type Place = Schemas["PlaceOut"];

function place(name: string, state: Place["state"], more: Partial<Place> = {}): Place {
  return {
    place: name,
    name,
    group: "one line",
    x: 10,
    y: 0,
    across_x: 0,
    across_y: 1,
    state,
    text: "",
    ...more,
  };
}

function piece(more: Partial<Schemas["PieceOut"]> = {}): Schemas["PieceOut"] {
  const square = [
    { x: 0, y: 0 },
    { x: 30, y: 0 },
    { x: 30, y: 30 },
    { x: 0, y: 30 },
    { x: 0, y: 0 },
  ];
  return {
    name: "Hollow box",
    outlines: [{ points: square, bold: true }],
    width_mm: 30,
    depth_mm: 30,
    height_mm: 10,
    size: "30 x 30 x 10 mm",
    minutes: "4 min",
    grams: "0.7 g",
    remarks: [],
    bands: [],
    front: [],
    jaws: true,
    refused: "",
    field: "",
    ...more,
  };
}

describe("a piece seen from above", () => {
  it("says what is measured next, and draws jaws only there", () => {
    const drawn = renderToStaticMarkup(
      <PiecePlan
        piece={piece()}
        spots={[place("A1", "taken", { text: "0.48" }), place("B1", "next"), place("C1", "asked")]}
      />,
    );
    expect(drawn).toContain("measure B1 next");
    expect(drawn.match(/stroke-mark/g)).toHaveLength(1);
    expect(drawn).toContain(">0.48<");
  });

  it("keeps labels of the same wall out of the way of the next one where room is short", () => {
    const same = [place("left", "taken", { text: "0.48" }), place("right", "next", { x: 20 })];
    const drawn = (spots: Place[], small: boolean) =>
      renderToStaticMarkup(<PiecePlan piece={piece()} spots={spots} small={small} />);
    expect(drawn(same, true)).not.toContain(">0.48<");
    expect(drawn(same, false)).toContain(">0.48<");
    const across = [
      place("left", "taken", { text: "0.48", across_y: -1 }),
      place("right", "next", { x: 20 }),
    ];
    expect(drawn(across, true)).toContain(">0.48<");
  });

  it("strikes a place that was passed over, and names none that is not asked for yet", () => {
    const drawn = renderToStaticMarkup(
      <PiecePlan piece={piece()} spots={[place("A1", "skipped"), place("B2", "later")]} />,
    );
    expect(drawn).toContain('text-decoration="line-through"');
    expect(drawn).not.toContain(">B2<");
  });

  it("is turned over, so that the back of the bed is at the top", () => {
    const drawn = renderToStaticMarkup(
      <PiecePlan piece={piece()} spots={[place("C1", "asked", { x: 15, y: 30 })]} />,
    );
    expect(drawn).toMatch(/<circle cx="15" cy="0"/);
  });

  it("shows a tower from the front as it is built, with the value of each band beside it", () => {
    const band = { text: "220", from_mm: 2, to_mm: 12, settled: "settled from 4 mm up" };
    const tower = piece({ bands: [band], front: [0, 3000, 0, 24, 500, 1500, 24, 1000], jaws: false });
    const drawn = renderToStaticMarkup(<PieceSide piece={tower} />);
    expect(drawn).toContain('viewBox="0 0 30 10"');
    expect(drawn).toContain('<rect x="5" y="0" width="10" height="9.76"');
    expect(drawn).toContain("bottom:20%;height:100%");
    expect(drawn).toContain("; 220 settled from 4 mm up");
  });

  it("draws nothing of a piece that cannot be written, and no side of a flat one", () => {
    expect(renderToStaticMarkup(<PiecePlan piece={piece({ outlines: [] })} />)).toBe("");
    expect(renderToStaticMarkup(<PieceSide piece={piece({ height_mm: 0.24 })} />)).toBe("");
    expect(renderToStaticMarkup(<PieceSide piece={piece()} />)).toContain("jaws 3 mm below the rim");
  });
});
