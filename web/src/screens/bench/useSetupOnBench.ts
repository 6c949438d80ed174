import { useState } from "react";
import { readStored, store } from "../../shell/storage";

/** The setup this browser has on its bench, and how to put another one there. */
export function useSetupOnBench(first: number) {
  const [id, setId] = useState(() => Number(readStored("ubrex.setup")) || first);
  const put = (next: number) => {
    store("ubrex.setup", String(next));
    setId(next);
  };
  return [id, put] as const;
}
