import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { KeyHint } from "../../instrument/KeyHint";
import { useKeys } from "../../shell/keys";
import STOPS from "./stop.gen.json";

/**
 * What to do first when it burns, runs away or leaks: large, in order, readable with one eye. It asks nobody for anything: it
 * is there without a network, and whoever stands there.
 */
export function StopScreen() {
  const [key, setKey] = useState(STOPS[0]?.key);
  const navigate = useNavigate();
  const open = STOPS.find((row) => row.key === key);
  useEffect(() => {
    document.title = "Stop first | Ubrex";
  }, []);
  useKeys([
    ...STOPS.map((row, index) => ({ key: String(index + 1), label: row.seen, run: () => setKey(row.key) })),
    { key: "Escape", label: "back", run: () => navigate("/") },
  ]);
  return (
    <div className="flex min-h-dvh flex-col bg-sheet">
      <header className="flex h-11.5 shrink-0 items-center gap-6 border-b-2 border-ink bg-ground px-3 desk:px-6">
        <Link to="/" className="flex min-h-11 items-center text-verdict font-bold">
          Ubrex
        </Link>
        <Link to="/faults" className="link ml-auto flex min-h-11 items-center text-body">
          It is safe: what went wrong?
        </Link>
      </header>
      <main className="grid w-full flex-1 content-start gap-x-10 gap-y-5 px-3 py-4 desk:px-6 wide:grid-cols-[22rem_minmax(0,1fr)]">
        <nav aria-label="What do you see?">
          <h1 className="mb-2 text-step text-stale">Stop first</h1>
          <ul className="grid grid-cols-2 gap-2 wide:grid-cols-1">
            {STOPS.map((row, index) => (
              <li key={row.key}>
                <button
                  type="button"
                  aria-pressed={row.key === key}
                  onClick={() => setKey(row.key)}
                  className={`flex h-full min-h-13 w-full cursor-pointer items-center gap-3 rounded-control border px-3 py-1 text-left text-body font-semibold desk:text-name ${
                    row.key === key ? "border-3 border-stale bg-well" : "border-edge"
                  }`}
                >
                  <KeyHint>{String(index + 1)}</KeyHint> {row.seen}
                </button>
              </li>
            ))}
          </ul>
        </nav>
        {open && (
          <section aria-label={open.title} aria-live="assertive">
            <h2 className="mb-3 text-step">{open.title}</h2>
            <ol className="max-w-190 list-decimal space-y-3 pl-9 text-verdict font-semibold">
              {open.steps.map((step) => (
                <li key={step}>{step}</li>
              ))}
            </ol>
            <p className="mt-5 max-w-190 text-reason text-ink-2">
              Follow the maker&apos;s instructions and local rules; work on the mains side is for somebody
              licensed.
            </p>
          </section>
        )}
      </main>
    </div>
  );
}
