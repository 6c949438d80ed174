import { useEffect, useRef, useState } from "react";

/** The last thing in a column that scrolls: while the end of it is out of sight, its lower edge says that there is more.
 *
 * ``className``: from which width on the column scrolls by itself, and how far its padding is to be pulled into. */
export function ScrollEnd({ className }: { className: string }) {
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
      <div
        aria-hidden="true"
        className={`pointer-events-none sticky mt-0! hidden h-0 ${className} ${hidden ? "" : "invisible"}`}
      >
        <p className="absolute inset-x-0 bottom-0 border-t border-rule bg-inherit py-1 text-small text-ink-2">
          more below ↓
        </p>
      </div>
      <div ref={end} className="mt-0! h-px" />
    </>
  );
}
