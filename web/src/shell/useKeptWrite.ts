import { isProblem, newKey } from "../api/client";
import { type Write, worthRetrying } from "../api/outbox";
import { sendWrite } from "../api/write";
import { useOutbox } from "./OutboxProvider";
import { useWrite } from "./useWrite";

/**
 * A write that is not lost without a network: it waits with the readings, in their order, and goes when the workshop answers.
 * `onDone` hears whether it waits.
 */
export function useKeptWrite<In>(make: (input: In) => Write, onDone?: (waits: boolean, input: In) => void) {
  const outbox = useOutbox();
  return useWrite<In, boolean>(async (input) => {
    const [key, write] = [newKey(), make(input)];
    let waits = false;
    try {
      await sendWrite(key, write);
    } catch (problem) {
      if (!isProblem(problem) || !worthRetrying(problem)) throw problem;
      outbox.add({
        key,
        write,
        runId: 0,
        typed: write.what,
        takenAt: new Date().toISOString(),
        asTyped: null,
        refusal: null,
      });
      waits = true;
    }
    onDone?.(waits, input);
    return waits;
  });
}
