import { useCallback, useLayoutEffect, useRef, useState, useSyncExternalStore } from "react";

/** Width of an element, kept up to date; `fixed` above 0 needs no watching. */
export function useWidth(fixed: number) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(fixed);
  useLayoutEffect(() => {
    const element = box.current;
    if (fixed > 0 || element === null) return;
    setWidth(element.clientWidth);
    const watcher = new ResizeObserver(() => setWidth(element.clientWidth));
    watcher.observe(element);
    return () => watcher.disconnect();
  }, [fixed]);
  return [box, width] as const;
}

/** Whether the window is at least this wide [px]: what only a wide one shows need not be drawn, hidden, in the others. */
export function useAtLeast(px: number): boolean {
  const query = `(min-width: ${px}px)`;
  const onChange = useCallback(
    (changed: () => void) => {
      const watched = matchMedia(query);
      watched.addEventListener("change", changed);
      return () => watched.removeEventListener("change", changed);
    },
    [query],
  );
  return useSyncExternalStore(onChange, () => matchMedia(query).matches);
}
