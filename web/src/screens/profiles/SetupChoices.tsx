import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { answer, api } from "../../api/client";
import { keys } from "../../api/queries";

type Choice = { id: number; title: string };

/** The setups in use, handed to `children` once they are there. */
export function SetupChoices({ children }: { children: (setups: readonly Choice[]) => ReactNode }) {
  const setups = useQuery({
    queryKey: [...keys.all, "setups"],
    queryFn: () => answer(api.GET("/api/v1/setups")),
  });
  return setups.data ? children(setups.data) : null;
}
