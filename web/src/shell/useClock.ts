import { useEffect, useState } from "react";
import { timeOf } from "./dates";

/** The time as a clock on the wall shows it, renewed every few seconds. */
export function useClock(): string {
  const [now, setNow] = useState(() => timeOf(new Date()));
  useEffect(() => {
    const timer = setInterval(() => setNow(timeOf(new Date())), 5000);
    return () => clearInterval(timer);
  }, []);
  return now;
}
