import { useState } from "react";
import type { Schemas } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import type { Give } from "./FaultScreen";

type Props = { check: Schemas["LookOut"]; give: Give; onSkip: () => void };

/** The next look: what to do, what can hurt, and its answers as bars for a thumb. */
export function Check({ check, give, onSkip }: Props) {
  const [unsure, setUnsure] = useState(false);
  const alone = check.asks.length === 1;
  return (
    <section aria-label="Next check">
      <p className="text-small text-ink-2">
        Next check, {check.minutes} min, {check.state}
        {check.needs.length > 0 && `, with ${check.needs.join(" and ")}`}
      </p>
      <h2 className="text-cell">{check.do}</h2>
      {check.cautions.map((line) => (
        <p key={line} className="mt-1 text-care font-semibold text-stale">
          {line}
        </p>
      ))}
      {check.asks.map((asked) => (
        <fieldset key={asked.key} className="mt-3">
          <legend className="mb-1 text-reason">{asked.question}</legend>
          {asked.options.map((option, place) => (
            <button
              key={option.key}
              type="button"
              className="mb-2 flex min-h-15 w-full cursor-pointer items-center gap-3 rounded-control border border-edge bg-sheet px-4 text-left text-name font-semibold"
              onClick={() => give({ kind: "finding", key: asked.key, answer: option.key, unsure })}
            >
              {alone && <KeyHint>{String(place + 1)}</KeyHint>} {option.text}
            </button>
          ))}
        </fieldset>
      ))}
      <label className="flex min-h-11 items-center gap-3 text-body">
        <input
          type="checkbox"
          className="size-5"
          checked={unsure}
          onChange={(event) => setUnsure(event.target.checked)}
        />
        I am not sure of it
      </label>
      <div className="flex flex-wrap gap-x-5">
        <button type="button" className="link min-h-11 text-body" onClick={onSkip}>
          Next best <KeyHint>N</KeyHint>
        </button>
        <button
          type="button"
          className="link min-h-11 text-body"
          onClick={() => give({ kind: "unable", key: check.key })}
        >
          Cannot be done here
        </button>
      </div>
    </section>
  );
}
