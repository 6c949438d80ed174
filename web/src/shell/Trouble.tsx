import { useEffect, useState } from "react";
import { isProblem } from "../api/client";
import { StopLink } from "./StopLink";

/** What went wrong, and a way on. */
export function Trouble({ error, onAgain }: { error: unknown; onAgain: () => void }) {
  return (
    <div role="alert" className="m-auto max-w-160 p-6">
      <h1 className="mb-2 text-verdict text-out">That did not work</h1>
      <p className="mb-4 text-reason">
        {isProblem(error) ? error.detail : "Something unexpected happened in this page."}
      </p>
      <button type="button" className="button button-main" onClick={onAgain}>
        Try again
      </button>
      <StopLink />
    </div>
  );
}

/** Nothing for a second, then the word. */
export function Waiting() {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), 1000);
    return () => clearTimeout(timer);
  }, []);
  return (
    <p role="status" className="p-6 text-reason text-ink-2">
      {late ? "Reading ..." : ""}
    </p>
  );
}
