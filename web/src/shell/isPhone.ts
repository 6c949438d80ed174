/** Whether this is a phone-sized window: there the number pad is ours, and no field takes focus by itself. */
export function isPhone(): boolean {
  return window.innerWidth < 641;
}
