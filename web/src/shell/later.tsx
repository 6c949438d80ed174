import { type ComponentType, createElement, lazy, Suspense } from "react";

const loads: (() => Promise<unknown>)[] = [];

/** A part of the page that is fetched when it is first shown, or after the first screen stands. */
export function later<Props>(load: () => Promise<ComponentType<Props>>) {
  loads.push(load);
  return lazy(async () => ({ default: await load() }));
}

/**
 * The same for what lies over a screen. While it is fetched the screen stays as it is: were it to wait as well, a sheet that is
 * laid away for this one would be hidden first, and take that for being closed.
 */
export function laterSheet<Props extends object>(load: () => Promise<ComponentType<Props>>) {
  const Part: ComponentType<Props> = later(load);
  return (props: Props) => <Suspense fallback={null}>{createElement(Part, props)}</Suspense>;
}

/** Fetch every part that has not been shown yet: a shed without signal must not lack one. */
export function fetchTheRest() {
  for (const load of loads) load().catch(() => undefined);
}
