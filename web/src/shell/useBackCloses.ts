import { useEffect, useRef } from "react";

let sheets = 0;

/** Lets the browser's Back close a sheet instead of leaving the page under it: people on a phone close with Back. */
export function useBackCloses(onClose: () => void) {
  const latest = useRef(onClose);
  latest.current = onClose;
  useEffect(() => {
    sheets += 1;
    const own = `sheet ${sheets}`;
    history.pushState({ ...history.state, sheet: own }, "");
    const onBack = () => {
      if (history.state?.sheet !== own) latest.current();
    };
    window.addEventListener("popstate", onBack);
    return () => {
      window.removeEventListener("popstate", onBack);
      // Closed in another way, and nothing was gone to since: the step that Back would have taken is taken.
      if (history.state?.sheet === own) history.back();
    };
  }, []);
}
