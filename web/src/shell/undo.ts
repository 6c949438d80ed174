import { useSyncExternalStore } from "react";

/** Something done on the bench, and how it is undone. */
export type Undoable = { said: string; undo: () => void };

/** More than this nobody goes back. */
const MOST = 20;

let done: readonly Undoable[] = [];
const listeners = new Set<() => void>();

function set(next: readonly Undoable[]) {
  done = next;
  for (const listener of listeners) listener();
}

/** Remember what was done just now, so that Ctrl Z undoes it; of this page only, and not after it is loaded anew. */
export function remember(what: Undoable) {
  set([...done, what].slice(-MOST));
}

/** Undo what was done last. */
export function undoLast() {
  const last = done.at(-1);
  if (!last) return;
  set(done.slice(0, -1));
  last.undo();
}

/** What would be undone; undefined where nothing was done. */
export function useUndoable(): Undoable | undefined {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => done.at(-1),
  );
}
