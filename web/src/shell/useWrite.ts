import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { Problem } from "../api/client";
import { refresh } from "../api/queries";
import { usePerson } from "./Person";

/** A write: asks who is here if nobody said so, sends, and has everything shown asked for again. */
export function useWrite<In, Out>(send: (input: In) => Promise<Out>, onDone?: (out: Out) => void) {
  const queries = useQueryClient();
  const { ensure } = usePerson();
  return useMutation<Out | null, Problem, In>({
    mutationFn: async (input) => ((await ensure()) ? send(input) : null),
    onSuccess: async (out) => {
      if (out === null) return;
      onDone?.(out);
      await refresh(queries);
    },
    onError: (problem) => {
      if (problem.code === "outdated" || problem.status === 409) void refresh(queries);
    },
  });
}
