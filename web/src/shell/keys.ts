import { useLayoutEffect, useRef } from "react";
import { readStored } from "../api/storage";

/** A key of a screen: what it does, and the word in the foot line. `quiet` ones act without being listed there. */
export type KeyAction = { key: string; label: string; run: () => void; quiet?: boolean };

/** Whether single letters act at all; a person can switch them off. */
export function lettersOn(): boolean {
  return readStored("ubrex.letters") !== "off";
}

/** Name of a pressed key as screens list it: `A`, `Enter`, `Shift+ArrowLeft`, `Ctrl+Z`. */
export function keyName(event: Pick<KeyboardEvent, "key" | "shiftKey" | "ctrlKey" | "metaKey">): string {
  const single = event.key.length === 1;
  const name = single ? event.key.toUpperCase() : event.key;
  const control = event.ctrlKey || event.metaKey ? "Ctrl+" : "";
  return `${control}${event.shiftKey && !single ? "Shift+" : ""}${name}`;
}

/** Keys that move a slider; all others are the screen's. */
const MOVES = /^(Arrow|Home|End|Page)/;

/** Whether a key pressed here is text for a field, not a command for the screen. */
export function isText(target: EventTarget | null, name: string): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLInputElement && target.dataset.entry !== undefined) {
    return target.value !== "" || /^[\d.,−-]$/.test(name) || name.startsWith("Arrow") || name === "Enter";
  }
  if (target instanceof HTMLInputElement && target.type === "range") return MOVES.test(name);
  const typing = target instanceof HTMLInputElement && !["radio", "checkbox", "file"].includes(target.type);
  return typing || target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement;
}

/** Keys of a screen act while it is shown and no dialog is open. */
export function useKeys(actions: KeyAction[]) {
  const latest = useRef(actions);
  latest.current = actions;
  // Before it is painted: what is seen can be pressed.
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const name = keyName(event);
      if (event.defaultPrevented || event.altKey || document.querySelector('[role="dialog"]')) return;
      if (isText(event.target, name) || (/^[A-Z]$/.test(name) && !lettersOn())) return;
      const onControl =
        event.target instanceof HTMLElement && event.target.closest("button, a, [role=radio], [role=option]");
      if ((name === "Enter" || name.startsWith("Arrow")) && onControl) return;
      const action = latest.current.find((candidate) => candidate.key === name);
      if (!action) return;
      event.preventDefault();
      action.run();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}

/** A key as its cap shows it. */
export function keyCap(key: string): string {
  const arrows: Record<string, string> = { ArrowUp: "↑", ArrowDown: "↓", ArrowLeft: "←", ArrowRight: "→" };
  if (key === "+") return key;
  return key
    .split("+")
    .map((part) => arrows[part] ?? part)
    .join(" ");
}
