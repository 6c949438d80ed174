import { useEffect, useRef } from "react";

/** What closes each open sheet, the topmost last. */
const open: (() => void)[] = [];

/** Whether the browser's history holds the one entry that Back takes while a sheet is open. */
let entered = false;

/** Whether that entry is being left: the browser does so a moment later, and a sheet that opens meanwhile waits for it. */
let leaving = false;

/** Bring the history in line with the sheets: one entry while any is open, none otherwise. */
function settle() {
  if (leaving) return;
  if (open.length > 0 && !entered) {
    entered = true;
    history.pushState({ ...history.state, sheet: true }, "");
  }
  if (open.length === 0 && entered) {
    entered = false;
    // Nothing was gone to since: the step that Back would have taken is taken.
    if (!history.state?.sheet) return;
    leaving = true;
    history.back();
  }
}

function onBack() {
  if (leaving) {
    leaving = false;
    settle();
    return;
  }
  if (!entered) return;
  entered = false;
  open.at(-1)?.();
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
      // One sheet may be laid away for the next: only then is it clear whether any is left.
      setTimeout(settle);
    };
  }, []);
}
