/** A moment as a day: 5 Nov 2026, in this browser's time zone. */
export function dayOf(moment: string): string {
  return new Date(moment).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}

/** A moment as day and time. */
export function dayAndTime(moment: string): string {
  const time = new Date(moment).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  return `${dayOf(moment)}, ${time}`;
}
