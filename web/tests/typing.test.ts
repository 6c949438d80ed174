import { expect, test } from "vitest";
import { allowed } from "../src/instrument/EntryField";
import { moveJaw } from "../src/screens/profiles/jaws";

test("a field takes both decimal marks and a unit behind digits, and never a bare letter", () => {
  expect(allowed("98.4")).toBe("98.4");
  expect(allowed("98,4 mm")).toBe("98,4 mm");
  expect(allowed("−2")).toBe("−2");
  expect(allowed("x")).toBe("");
  expect(allowed("<b>98</b>")).toBe("b98b");
  expect(allowed("9".repeat(40))).toHaveLength(12);
});

test("jaws move along the revisions that exist and never pass each other", () => {
  const numbers = [1, 2, 4];
  expect(moveJaw({ left: 2, right: 4 }, "left", -1, numbers)).toEqual({ left: 1, right: 4 });
  expect(moveJaw({ left: 1, right: 4 }, "left", -1, numbers)).toEqual({ left: 1, right: 4 });
  expect(moveJaw({ left: 2, right: 2 }, "right", -1, numbers)).toEqual({ left: 2, right: 2 });
  expect(moveJaw({ left: 2, right: 2 }, "right", 1, numbers)).toEqual({ left: 2, right: 4 });
});
