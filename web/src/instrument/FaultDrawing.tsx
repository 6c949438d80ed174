import { BandDrawing } from "./BandDrawing";

/** What is seen, as far as it is drawn for a scale too: what is rated, and how bad. */
const RATED: Readonly<Record<string, readonly [string, number]>> = {
  c_strings: ["stringing", 1],
  c_corner_lift: ["lift", 1],
  c_foot: ["foot", 1],
  c_blobs: ["blobs", 1],
  c_seam: ["seam", 1],
  c_corners: ["slow_down", 4],
  c_support: ["release", 0],
  c_tight: ["fit", 0],
  c_split: ["bond", 0],
};

const NOZZLE = "M24 2h16v6l-6 7h-4l-6 -7z";
const PLATE = "M2 37H62";
const PART = "M14 37V14H50V37";
const HOTEND = "M22 4h20v12h-4l-4 8h-4l-4 -8h-4z";

/** Two strokes for each thing that is seen: what is there, and what is wrong with it. */
const DRAWN: Readonly<Record<string, readonly [string, string]>> = {
  c_nothing_start: [`${NOZZLE}${PLATE}`, "M10 33H54"],
  c_first_missing: [`${PLATE}M12 24H52M12 19H52M12 14H52`, "M12 34H52M12 29H52"],
  c_stopped: [`${PLATE}M14 37V25H50V37M24 2h16v5l-6 6h-4l-6 -6z`, "M14 21H50M14 16H50"],
  c_thin: [`${PLATE}M16 37V10M48 37V10`, "M16 32H48M16 26H48M16 20H48M16 14H48"],
  c_pops: [
    `${NOZZLE}M6 30H58`,
    "M14 26a2 2 0 1 0 4 0a2 2 0 1 0 -4 0M34 25a3 3 0 1 0 6 0a3 3 0 1 0 -6 0M50 27a2 2 0 1 0 4 0a2 2 0 1 0 -4 0",
  ],
  c_no_stick: [`${PLATE}${NOZZLE}`, "M12 34c6 -12 10 2 14 -6s8 8 12 0s8 8 14 -4"],
  c_first_uneven: [PLATE, "M6 34h10M20 32h10M34 29h10M48 35h10"],
  c_knocked: [`${PLATE}${NOZZLE}`, "M36 36l14 -14l8 8l-6 6z"],
  c_stuck: [`${PLATE}${PART}`, "M32 30V6m-5 6l5 -6l5 6"],
  c_blobs_low: [
    `${PLATE}${PART}`,
    "M12 33a2.5 2.5 0 1 0 5 0a2.5 2.5 0 1 0 -5 0M47 34a2.5 2.5 0 1 0 5 0a2.5 2.5 0 1 0 -5 0",
  ],
  c_top_proud: [`${PLATE}M14 37V20M50 37V20`, "M14 20l4 -5l4 5l4 -5l4 5l4 -5l4 5l4 -5l4 5l4 -5"],
  c_top_gaps: [`${PLATE}${PART}`, "M18 14H24M30 14H34M40 14H46"],
  c_curl: [`${PLATE}M10 37V12H34`, "M34 12c8 0 14 -2 16 -8"],
  c_shift: [`${PLATE}M14 37V26H44V37`, "M22 26V12H52V26"],
  c_echo: [`${PLATE}M12 37V8`, "M18 37V8M25 37V8M33 37V8M42 37V8"],
  c_air: [`${PLATE}M14 37V28H50V37`, "M14 18H50M14 14H50"],
  c_wavy: [`${PLATE}M44 37V8`, "M18 37c-4 -5 4 -8 0 -14s4 -8 0 -15"],
  c_uneven: ["M4 30H60", "M4 20c8 -6 14 6 22 0s14 6 34 0"],
  c_holes: [`${PLATE}${PART}`, "M22 22a3 3 0 1 0 6 0a3 3 0 1 0 -6 0M36 28a3 3 0 1 0 6 0a3 3 0 1 0 -6 0"],
  c_scatter: [PLATE, "M12 34V16m-3 4l3 -4l3 4M32 34V28m-3 2l3 -4l3 4M52 34V10m-3 4l3 -4l3 4"],
  c_crash: [`${NOZZLE}${PLATE}`, "M32 15l-4 6l8 4l-8 6l4 6"],
  c_temp: ["M4 20H60", "M4 26c6 -16 10 -16 16 0s10 10 14 -2s8 -12 12 0s8 4 14 -4"],
  c_above: [HOTEND, "M20 8c-6 0 -6 8 0 8M44 8c6 0 6 8 0 8"],
  c_blob: [HOTEND, "M16 6c-8 10 -4 26 16 26s24 -16 16 -26"],
  c_smell: [HOTEND, "M20 34c-4 -4 4 -5 0 -9M32 36c-4 -4 4 -5 0 -9M44 34c-4 -4 4 -5 0 -9"],
  c_runout: ["M4 20H60M26 12h12v16h-12z", "M44 8l8 8m0 -8l-8 8"],
  c_overload: ["M4 20H60M24 20a6 6 0 1 0 12 0a6 6 0 1 0 -12 0", "M40 8a14 14 0 0 1 4 14m-4 -3l4 3l3 -4"],
  c_noload: ["M4 20H26M38 20H60M26 10h12v20h-12z", "M10 20l6 -4m-6 4l6 4"],
  c_specks: [`${PLATE}${PART}`, "M22 20h.1M30 28h.1M40 22h.1M34 18h.1M44 31h.1M20 31h.1"],
};

/** A small picture of what somebody sees; the words beside it say the same. */
export function FaultDrawing({ complaint }: { complaint: string }) {
  const rated = RATED[complaint];
  if (rated) {
    return <BandDrawing ratings={{ [rated[0]]: rated[1] }} has={[rated[0]]} className="h-10 w-16 shrink-0" />;
  }
  const drawn = DRAWN[complaint];
  if (!drawn) return null;
  return (
    <svg
      viewBox="0 0 64 40"
      className="block h-10 w-16 shrink-0"
      aria-hidden="true"
      fill="none"
      strokeLinecap="round"
      strokeLinejoin="round"
    >
      <path d={drawn[0]} className="stroke-ink" strokeWidth={1.5} />
      <path d={drawn[1]} className="stroke-mark" strokeWidth={complaint === "c_specks" ? 4 : 2} />
    </svg>
  );
}
