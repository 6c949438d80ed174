// Made once: a formatter takes longer to make than a screen has between two keys.
const DAY = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric" });
const TIME = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

/** A moment as a day: 5 Nov 2026, in this browser's time zone. */
export function dayOf(moment: string): string {
  return DAY.format(new Date(moment));
}

/** A moment as a time, with its day where that is not today: 21:30, or 26 Nov 2026, 06:00. */
export function clockOf(moment: string): string {
  return dayOf(moment) === dayOf(new Date().toISOString()) ? timeOf(new Date(moment)) : dayAndTime(moment);
}

/** A moment as day and time. */
export function dayAndTime(moment: string): string {
  return `${dayOf(moment)}, ${timeOf(new Date(moment))}`;
}

/** A moment as a clock shows it. */
export function timeOf(moment: Date): string {
  return TIME.format(moment);
}
