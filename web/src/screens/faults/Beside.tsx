import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { dayOf } from "../../shell/dates";
import { Choice } from "../../shell/Field";
import { School } from "../run/School";
import { CasePhotos } from "./CasePhotos";
import type { Give } from "./FaultScreen";

type Sheet = Schemas["FaultSheetOut"];
type Props = { sheet: Sheet; onTry: (key: string) => void; onUndo: (id: number) => void; give: Give };

/** What was answered, tried and found, what else could be, and what the record knows. */
export function Beside({ sheet, onTry, onUndo, give }: Props) {
  return (
    <aside className="shrink-0 border-t-4 border-double border-ink px-3 py-3 desk:px-6 wide:w-72 wide:overflow-y-auto wide:border-t-0 wide:border-l-4 wide:px-4">
      <Link className="link flex min-h-11 items-center text-body" to={`/faults/${sheet.id}/help`}>
        A page for somebody elsewhere
      </Link>
      <h2 className="text-name">Looked at and tried</h2>
      {sheet.answered.length === 0 && <p className="text-body text-ink-2">Nothing yet.</p>}
      <ul>
        {sheet.answered.map((row) => (
          <li key={row.id} className="border-b border-rule py-1 text-body">
            {row.text}
            <span className="block text-small text-ink-2">
              {dayOf(row.at)}, {row.person}
              {!sheet.closed && (
                <button
                  type="button"
                  className="link ml-3 min-h-11"
                  aria-label={`Take back: ${row.text}`}
                  onClick={() => onUndo(row.id)}
                >
                  Take back
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
      <Found sheet={sheet} give={give} />
      {!sheet.closed && sheet.stop.length === 0 && (
        <>
          <Rest sheet={sheet} onTry={onTry} give={give} />
          <Folded name="Done before this case was opened">
            {sheet.done_before.map((row) => (
              <button
                key={row.key}
                type="button"
                className="link flex min-h-11 items-center text-left text-body"
                aria-label={`Done, did not help: ${row.text}`}
                onClick={() => give({ kind: "remedy", key: row.key, answer: "no change" })}
              >
                {row.text}
              </button>
            ))}
            <p className="text-small text-ink-2">Press what was done and did not help.</p>
          </Folded>
        </>
      )}
      {sheet.facts.length > 0 && (
        <Folded
          name={
            <>
              <KeyHint>{String(sheet.facts.length)}</KeyHint> facts from the record
            </>
          }
        >
          <ul>
            {sheet.facts.map((row) => (
              <li key={row.key} className="border-b border-rule py-1 text-body">
                <Link to={row.to} className="underline decoration-rule underline-offset-4">
                  {row.counts ? row.text : <s>{row.text}</s>}
                </Link>
                {row.counts && !sheet.closed && (
                  <button
                    type="button"
                    className="link ml-2 min-h-11 text-small"
                    aria-label={`Not so: ${row.text}`}
                    onClick={() => give({ kind: "not_so", key: row.key })}
                  >
                    Not so
                  </button>
                )}
              </li>
            ))}
          </ul>
        </Folded>
      )}
      <CasePhotos sheet={sheet} />
      {!sheet.closed && (
        <Folded name="Where people differ">
          {sheet.schools.map((school) => (
            <School key={school.key} school={school} heading="h3" />
          ))}
        </Folded>
      )}
    </aside>
  );
}

function Folded({ name, children }: { name: ReactNode; children: ReactNode }) {
  return (
    <details className="mt-3">
      <summary className="min-h-11 cursor-pointer py-2 text-body font-semibold">{name}</summary>
      {children}
    </details>
  );
}

/** What else could be tried, and what else is seen, or is not. */
function Rest({ sheet, onTry, give }: { sheet: Sheet; onTry: (key: string) => void; give: Give }) {
  const [also, setAlso] = useState("");
  const say = (answer: "yes" | "no") => {
    give({ kind: "also", key: also, answer });
    setAlso("");
  };
  return (
    <>
      {sheet.remedies.length > 0 && (
        <section className="mt-3">
          <h2 className="text-name">Try anyway</h2>
          {sheet.remedies.map((row) => (
            <button
              key={row.key}
              type="button"
              className="link flex min-h-11 items-center text-left text-body"
              onClick={() => onTry(row.key)}
            >
              {row.do}
            </button>
          ))}
        </section>
      )}
      <section className="mt-3">
        <Choice
          label="What else?"
          value={also}
          onChange={setAlso}
          options={[
            { value: "", text: "Choose what is seen, or is not" },
            ...sheet.also.map((row) => ({ value: row.key, text: row.text })),
          ]}
        />
        {also !== "" && (
          <div className="mt-1 flex gap-2">
            <button type="button" className="button flex-1" onClick={() => say("yes")}>
              Seen too
            </button>
            <button type="button" className="button flex-1" onClick={() => say("no")}>
              Not here
            </button>
          </div>
        )}
      </section>
    </>
  );
}

/** What was found on the way without being the cause. */
function Found({ sheet, give }: { sheet: Sheet; give: Give }) {
  const free = sheet.can_find.filter((row) => !sheet.found.some((one) => one.key === row.key));
  if (sheet.closed && sheet.found.length === 0) return null;
  return (
    <section className="mt-3">
      <h2 className="text-name">Also found</h2>
      <ul>
        {sheet.found.map((row) => (
          <li
            key={row.key}
            className={`mb-1 border-l-4 bg-well px-3 py-1 text-body ${row.unsafe ? "border-out" : "border-ageing"}`}
          >
            <strong>{row.text}</strong>
            {row.unsafe && " It holds the next job."} {row.mend && `${row.mend}.`}
            <button
              type="button"
              className="link block min-h-11"
              aria-label={`Mended: ${row.text}`}
              onClick={() => give({ kind: "found", key: row.key, answer: "mended" })}
            >
              Mended
            </button>
          </li>
        ))}
      </ul>
      {!sheet.closed && (
        <Choice
          label="Found on the way, not the cause"
          value=""
          onChange={(key) => key && give({ kind: "found", key })}
          options={[
            { value: "", text: "Nothing" },
            ...free.map((row) => ({ value: row.key, text: row.text })),
          ]}
        />
      )}
    </section>
  );
}
