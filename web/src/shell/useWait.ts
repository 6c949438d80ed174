import { useEffect, useState } from "react";
import { readStored, store } from "../api/storage";

/** How far from now a kept wait may end: one that was over long ago is forgotten, and so is one of a clock set back since. */
const TOLD_MS = 3_600_000;

/** Seconds left of a wait, null where none was begun; and what begins it.
 *
 * It is kept in this browser by its end, so that it goes on behind a locked screen, and on a page one comes back to. */
export function useWait(name: string): readonly [number | null, (seconds: number) => void] {
  const key = `ubrex.wait.${name}`;
  const [now, setNow] = useState(Date.now);
  const [end, setEnd] = useState(() => {
    const kept = Number(readStored(key));
    return Math.abs(Date.now() - kept) < TOLD_MS ? kept : null;
  });
  const left = end === null ? null : Math.max(0, Math.ceil((end - now) / 1000));
  const goesOn = left !== null && left > 0;
  useEffect(() => {
    if (!goesOn) return;
    const timer = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(timer);
  }, [goesOn]);
  const begin = (seconds: number) => {
    const started = Date.now();
    store(key, String(started + seconds * 1000));
    setNow(started);
    setEnd(started + seconds * 1000);
  };
  return [left, begin];
}
