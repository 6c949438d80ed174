import { useLayoutEffect, useRef, useState } from "react";

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
