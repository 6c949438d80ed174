import type { Schemas } from "./client";

type Run = Schemas["RunOut"];
type Rating = Schemas["RatingOut"];

/** What the workshop answers to something taken: the run as it stands, or what one rating changed of it. */
export type Stored = Run | Rating;

/**
 * The run as it is shown after an answer came. An answer may be late: what was taken back meanwhile does not come back.
 * Null where a rating's changes are to another version than the one shown: then the run is asked for anew.
 */
export function settled(shown: Run | undefined, stored: Stored): Run | null {
  if (shown && shown.version > stored.version) return shown;
  if (!("since" in stored)) return stored;
  if (!shown || shown.version !== stored.since || shown.body.kind !== "rated") return null;
  const { readings, bands, scales, waiting, left, entry, finding, result, actions, version, curve } = stored;
  const changed = new Map(bands.map((band) => [band.index, band]));
  const { tower } = shown.body;
  return {
    ...shown,
    version,
    entry,
    finding,
    result,
    actions,
    curve,
    readings: merged(shown.readings, readings),
    body: {
      kind: "rated",
      tower: {
        ...tower,
        scales: scales ?? tower.scales,
        waiting,
        left,
        bands: tower.bands.map((band) => changed.get(band.index) ?? band),
      },
    },
  };
}

function merged(shown: Run["readings"], changed: Run["readings"]): Run["readings"] {
  const rows = new Map([...shown, ...changed].map((row) => [row.id, row]));
  return [...rows.values()].sort((a, b) => a.position - b.position);
}
