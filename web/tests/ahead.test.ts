import { describe, expect, it } from "vitest";
import type { Schemas } from "../src/api/client";
import type { Parcel } from "../src/api/outbox";
import { askedNow, spotsNow } from "../src/screens/run/ahead";

type Entry = Schemas["EntryOut"];

const spot = (place: string, state: Schemas["PlaceOut"]["state"]): Schemas["PlaceOut"] => ({
  place,
  name: place,
  group: "",
  x: 0,
  y: 0,
  across_x: 0,
  across_y: 0,
  state,
  text: "",
});

function entry(...ahead: string[]): Entry {
  const places = ahead.map((place) => ({ place, label: place, reads: `wall ${place}` }));
  const spots = ["A", "B", "C", "D"].map((place) =>
    spot(place, !ahead.includes(place) ? "taken" : place === ahead[0] ? "next" : "asked"),
  );
  return {
    reads: "",
    unit: "mm",
    places: 2,
    next: 1,
    asked: 4,
    place: ahead[0] ?? "",
    ahead: places,
    implied: "0.",
    tools: [],
    slips: [],
    spots,
  };
}

function waiting(typed: string, place: string): Parcel {
  const asked = { place, label: place, reads: `wall ${place}` };
  return { key: typed, runId: 1, typed, takenAt: "", asTyped: null, refusal: null, place: asked };
}

describe("where the next reading is taken", () => {
  it("moves on while nothing can be sent", () => {
    const unsent = [waiting("0.45", "B"), waiting("0.44", "C")];
    expect(askedNow(entry("B", "C", "D"), [])?.reads).toBe("wall B");
    expect(askedNow(entry("B", "C", "D"), unsent)?.reads).toBe("wall D");
    expect(
      spotsNow(entry("B", "C", "D"), unsent, askedNow(entry("B", "C", "D"), unsent) ?? null).map(
        (row) => `${row.place} ${row.state} ${row.text}`,
      ),
    ).toEqual(["A taken ", "B taken 0.45", "C taken 0.44", "D next "]);
  });

  it("is nowhere when every place has its reading, or there are no places", () => {
    expect(askedNow(entry("D"), [waiting("0.44", "D")])).toBeUndefined();
    expect(askedNow(null, [])).toBeUndefined();
  });
});
