import { useState } from "react";
import type { Values } from "./form";

/** Fields that are right as typed, by what stood there when that was said: once it changes, it is asked about anew. */
export function useAsTyped(values: Values) {
  const [meant, setMeant] = useState<Values>({});
  const fieldsOf = (said: Values) => Object.keys(said).filter((field) => said[field] === values[field]);
  return {
    asTyped: fieldsOf(meant),
    /** One more is right as typed; all that are. */
    confirm: (field: string): string[] => {
      const said = { ...meant, [field]: values[field] ?? "" };
      setMeant(said);
      return fieldsOf(said);
    },
  };
}
