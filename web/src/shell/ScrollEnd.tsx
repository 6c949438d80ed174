import { useEffect, useRef, useState } from "react";

/** The last thing in a column that scrolls: while the end of it is out of sight, its lower edge says that there is more. */
export function ScrollEnd() {
  const end = useRef<HTMLDivElement>(null);
  const [hidden, setHidden] = useState(false);
  useEffect(() => {
    if (end.current === null) return;
    const watcher = new IntersectionObserver(([seen]) =>
      setHidden(seen !== undefined && !seen.isIntersecting),
    );
    watcher.observe(end.current);
    return () => watcher.disconnect();
  }, []);
  return (
    <>
      <p
        aria-hidden="true"
        className={`pointer-events-none sticky -bottom-3 hidden border-t border-rule bg-sheet py-1 text-small text-ink-2 desk:block ${hidden ? "" : "invisible"}`}
      >
        more below ↓
      </p>
      <div ref={end} className="h-px" />
    </>
  );
}
