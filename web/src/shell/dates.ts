/** A moment as a day: 5 Nov 2026, in this browser's time zone. */
export function dayOf(moment: string): string {
  return new Date(moment).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}

/** A moment as a time, with its day where that is not today: 21:30, or 26 Nov 2026, 06:00. */
export function clockOf(moment: string): string {
  return dayOf(moment) === dayOf(new Date().toISOString()) ? timeOf(moment) : dayAndTime(moment);
}

/** A moment as day and time. */
export function dayAndTime(moment: string): string {
  return `${dayOf(moment)}, ${timeOf(moment)}`;
}

function timeOf(moment: string): string {
  return new Date(moment).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
}
