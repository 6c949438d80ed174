import { describe, expect, it, test, vi } from "vitest";
import { clockOf, dayAndTime, dayOf } from "../src/shell/dates";
import { matching } from "../src/shell/matching";

describe("finding one of many", () => {
  const options = ["TPU, flexible", "PLA", "PLA, foaming", "PETG"].map((text) => ({ text }));
  const found = (typed: string) => matching(options, typed).map((row) => row.text);

  it("takes any words in any order, however they are spelt", () => {
    expect(found("foam pla")).toEqual(["PLA, foaming"]);
    expect(found("  PL ")).toEqual(["PLA", "PLA, foaming"]);
    expect(found("t")).toEqual(["TPU, flexible", "PETG"]);
  });

  it("has what reads just as typed first", () => {
    const done = ["Extruder, gear or motor replaced", "Belt cleaned near a gear", "Gear cleaned"];
    const rows = matching(
      done.map((text) => ({ text })),
      "gear c",
    );
    expect(rows.map((row) => row.text)[0]).toBe("Gear cleaned");
  });

  it("shows all before anything is typed, and nothing where nothing is called that", () => {
    expect(found("")).toHaveLength(options.length);
    expect(found("pla zinc")).toEqual([]);
  });
});

test("a moment of today is a time, any other has its day", () => {
  vi.useFakeTimers({ now: new Date(2026, 10, 26, 12, 0) });
  const today = new Date(2026, 10, 26, 21, 30).toISOString();
  const tomorrow = new Date(2026, 10, 27, 6, 0).toISOString();
  expect(clockOf(today)).toBe("21:30");
  expect(clockOf(tomorrow)).toBe("27 Nov 2026, 06:00");
  expect(clockOf(tomorrow)).toBe(dayAndTime(tomorrow));
  expect(dayOf(today)).toBe("26 Nov 2026");
  vi.useRealTimers();
});
