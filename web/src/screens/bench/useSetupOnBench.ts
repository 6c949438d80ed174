import { useState } from "react";
import { setupOnBench, store } from "../../api/storage";

/** The setup this browser has on its bench, and how to put another one there. */
export function useSetupOnBench(first: number) {
  const [id, setId] = useState(() => setupOnBench(first));
  const put = (next: number) => {
    store("ubrex.setup", String(next));
    setId(next);
  };
  return [id, put] as const;
}
