import type { Schemas } from "../../api/client";

/** Colour of a standing's word; the same as its glyph's. */
export const WORD_COLOUR: Record<Schemas["Standing"], string> = {
  fresh: "text-asked",
  ageing: "text-ageing",
  assumed: "text-ink-2",
  never: "text-ink-2",
  check: "text-ageing",
  re_enter: "text-stale",
  stale: "text-stale",
  hold: "text-stale",
  out: "text-out",
  not_on_machine: "text-ink-2",
};
