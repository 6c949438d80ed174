import { expect, test } from "vitest";
import { answered, type FormField, isShown, sent, valuesOf } from "../src/shell/form";

function field(name: string, more: Partial<FormField> = {}): FormField {
  return {
    name,
    label: name,
    kind: "text",
    value: "",
    unit: "",
    hint: "",
    group: "",
    usual: "",
    offer: "",
    needed: false,
    word: "",
    options: [],
    when: null,
    ...more,
  };
}

test("what was typed wins over what stood there, also when it was emptied", () => {
  const fields = [field("bore", { value: "0.4" }), field("note", { value: "old" })];
  expect(valuesOf(fields, { note: "" })).toEqual({ bore: "0.4", note: "" });
});

test("a field that hangs on another is asked for at its value only, or at any", () => {
  const own = field("width", { when: { field: "own", value: "no" } });
  const any = field("rescale", { when: { field: "printed_at", value: null } });
  const held: Record<string, string>[] = [{ own: "no" }, { own: "yes" }, {}];
  expect(held.map((values) => isShown(own, values))).toEqual([true, false, false]);
  expect([{ printed_at: "x" }, { printed_at: "" }].map((values) => isShown(any, values))).toEqual([
    true,
    false,
  ]);
});

test("a choice brings what is usual with it, and typing does not", () => {
  const kind = field("kind", {
    kind: "choice",
    options: [
      { value: "ruler", text: "Ruler", sets: { step: "0.5" } },
      { value: "scale", text: "Scale", sets: {} },
    ],
  });
  expect(answered({ name: "A", step: "0.01" }, kind, "ruler")).toEqual({
    name: "A",
    step: "0.5",
    kind: "ruler",
  });
  expect(answered({ step: "0.01" }, kind, "scale")).toEqual({ step: "0.01", kind: "scale" });
});

test("a moment is sent with its time zone, and what is none as it was typed", () => {
  const fields = [field("fed_at", { kind: "moment" }), field("bore")];
  const typed = "2026-03-08T10:00";
  expect(sent(fields, { fed_at: typed, bore: "0.4" })).toEqual({
    fed_at: new Date(typed).toISOString(),
    bore: "0.4",
  });
  expect(sent(fields, { fed_at: "yesterday", bore: "" })).toEqual({ fed_at: "yesterday", bore: "" });
});
