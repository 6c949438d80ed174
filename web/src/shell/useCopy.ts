import { useEffect, useState } from "react";

/** How long it is said that something was copied [ms]. */
const SAID_MS = 1500;

/** Copying a text: what to do, and what to say for a moment. Plain HTTP has no clipboard: there the text is selected. */
export function useCopy(text: string) {
  const [said, setSaid] = useState<string | null>(null);
  useEffect(() => {
    if (said === null) return;
    const timer = setTimeout(() => setSaid(null), SAID_MS);
    return () => clearTimeout(timer);
  }, [said]);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      setSaid("Copied");
    } catch {
      setSaid(copyBySelection(text) ? "Copied" : "Type it");
    }
  };
  return { said, copy };
}

function copyBySelection(text: string): boolean {
  const area = document.createElement("textarea");
  area.value = text;
  document.body.append(area);
  area.select();
  const done = document.execCommand("copy");
  area.remove();
  return done;
}
