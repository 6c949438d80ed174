import { type ComponentType, lazy } from "react";

const loads: (() => Promise<unknown>)[] = [];

/** A part of the page that is fetched when it is first shown, or after the first screen stands. */
export function later<Props>(load: () => Promise<ComponentType<Props>>) {
  loads.push(load);
  return lazy(async () => ({ default: await load() }));
}

/** Fetch every part that has not been shown yet: a shed without signal must not lack one. */
export function fetchTheRest() {
  for (const load of loads) load().catch(() => undefined);
}
