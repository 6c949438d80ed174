import { useEffect, useRef } from "react";
import { useLocation } from "react-router";

/** What closes each open sheet, the topmost last. */
const open: (() => void)[] = [];

/**
 * Whether the browser's history stands at an entry that was made for a sheet. It is left there when the sheet is laid away,
 * for the next one: going back from it takes the browser a moment, in which whatever the sheet was for has long gone on.
 */
let atSheet = false;

function settle() {
  if (open.length === 0 || history.state?.sheet) return;
  atSheet = true;
  history.pushState({ ...history.state, sheet: true }, "");
}

function onBack() {
  const wasAtSheet = atSheet;
  atSheet = history.state?.sheet === true;
  if (open.length > 0) open.at(-1)?.();
  // An entry whose sheet is gone shows what the one before it shows: leaving the one leaves both.
  else if (wasAtSheet && !atSheet) history.back();
}

window.addEventListener("popstate", onBack);

/** Lets the browser's Back close a sheet instead of leaving the page under it: people on a phone close with Back. */
export function useBackCloses(onClose: () => void) {
  const latest = useRef(onClose);
  latest.current = onClose;
  useEffect(() => {
    const close = () => latest.current();
    open.push(close);
    settle();
    return () => {
      open.splice(open.indexOf(close), 1);
      // Where Back closed one of several, the ones below get an entry again.
      setTimeout(settle);
    };
  }, []);
}

/** Keeps in mind at which kind of entry the history stands, as the pages change; used once, above them all. */
export function useBackSteps() {
  const { key } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another key is another entry.
  useEffect(() => {
    atSheet = history.state?.sheet === true;
  }, [key]);
}
