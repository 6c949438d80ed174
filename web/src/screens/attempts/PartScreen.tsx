import { useState } from "react";
import { Link, useParams } from "react-router";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { useAttempts } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { dayOf } from "../../shell/dates";
import { Choice } from "../../shell/Field";
import { laterSheet } from "../../shell/later";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";
import { LooksDue } from "./LooksDue";
import { Since } from "./Since";
import { TrialsOpen } from "./TrialsOpen";

const PlanDialog = laterSheet(async () => (await import("./PlanDialog")).PlanDialog);
const FactsDialog = laterSheet(async () => (await import("./FactsDialog")).FactsDialog);
const PhotoDialog = laterSheet(async () => (await import("./PhotoDialog")).PhotoDialog);

type Part = Schemas["AttemptsOut"];
type Attempt = Schemas["AttemptOut"];

/** All attempts at a part side by side: what differed, what it did, what to print next. */
export function PartScreen() {
  const printId = Number(useParams().printId);
  const [sign, setSign] = useState<string | null>(null);
  const [asking, setAsking] = useState<"plan" | "facts" | Attempt | null>(null);
  const found = useAttempts(printId, sign);
  const part = found.data;
  const last = part?.attempts.at(-1);
  const close = () => setAsking(null);
  return (
    <Page
      tab="Bench"
      name={part ? part.what : "Part"}
      keys={[
        { key: "S", label: "plan a series", run: () => setAsking("plan") },
        { key: "E", label: "what is known of the part", run: () => setAsking("facts"), quiet: true },
      ]}
      {...(last ? { setupId: last.setup_id } : {})}
    >
      {found.isPending && <Waiting />}
      {found.isError && !part && <Trouble error={found.error} onAgain={() => found.refetch()} />}
      {part && (
        <div className="w-full space-y-4 px-3 py-4 desk:px-6">
          <div className="flex flex-wrap items-baseline gap-x-6 gap-y-1">
            <h1 className="text-cell">{part.what}</h1>
            <p className="text-body text-ink-2">{factsSaid(part.facts)}</p>
            <button type="button" className="link min-h-11 text-body" onClick={() => setAsking("facts")}>
              What is known of it
            </button>
            <button type="button" className="button ml-auto" onClick={() => setAsking("plan")}>
              Plan a series <KeyHint>S</KeyHint>
            </button>
          </div>
          {part.sums.length > 0 && <p className="text-body text-ink-2">{part.sums.join("; ")}</p>}
          <Verdict part={part} onSign={setSign} />
          <Table part={part} onPhotos={setAsking} />
          <Between part={part} />
          <Times times={part.times} />
          <Told part={part} />
        </div>
      )}
      {part && asking === "plan" && <PlanDialog part={part} printId={printId} onClose={close} />}
      {part && asking === "facts" && <FactsDialog facts={part.facts} printId={printId} onClose={close} />}
      {part && asking !== null && typeof asking === "object" && (
        <PhotoDialog attempt={part.attempts.find((row) => row.id === asking.id) ?? asking} onClose={close} />
      )}
    </Page>
  );
}

function factsSaid(facts: Schemas["PartFactsOut"]) {
  return [
    facts.purpose,
    facts.file,
    facts.grams && `${facts.grams} g`,
    facts.height_mm && `${facts.height_mm} mm high`,
  ]
    .filter(Boolean)
    .join(", ");
}

/** What may be believed of it, and what to print next. */
function Verdict({ part, onSign }: { part: Part; onSign: (sign: string) => void }) {
  return (
    <section
      aria-label="What may be believed"
      className="grid gap-x-8 gap-y-3 border-y-2 border-ink py-3 wide:grid-cols-[minmax(0,1fr)_22rem]"
    >
      <div className="space-y-2">
        {part.next && (
          <p className="text-reason">
            <strong>Since the attempt before:</strong> {part.next}
          </p>
        )}
        <p className="text-reason">{part.qualified}</p>
        <p className="text-reason">{part.series}</p>
        {part.smaller && (
          <p className="text-reason">
            <strong>Smaller than the whole part:</strong> {part.smaller}
          </p>
        )}
        {part.factors.length > 0 && (
          <ul>
            {part.factors.map((row) => (
              <li
                key={row.name}
                className="grid items-center gap-x-4 border-b border-rule py-1 desk:grid-cols-[12rem_16rem_minmax(0,1fr)]"
              >
                <span className="text-body font-semibold">{row.name}</span>
                <Effect row={row} />
                <span className="text-body">{row.said}</span>
              </li>
            ))}
          </ul>
        )}
        {part.machines.map((said) => (
          <p key={said} className="text-body text-ink-2">
            {said}
          </p>
        ))}
      </div>
      <div>
        <Choice
          label="Judged by"
          value={part.sign}
          onChange={onSign}
          options={part.signs.map((row) => ({ value: row.value, text: row.text }))}
        />
        <TrialsOpen trials={part.trials} />
        <LooksDue looks={part.looks.filter((row) => row.due)} />
      </div>
    </section>
  );
}

const COLOURS = { good: "text-asked", bad: "text-out", stopped: "text-stale" } as const;

/** Stands for the profile among attempts. */
const PROFILE_NOW = 0;

/** Any two attempts, one against the other; at first the last one against the last before it that was good. */
function Between({ part }: { part: Part }) {
  const last = part.attempts.at(-1);
  const good = part.attempts.filter((row) => row !== last && row.outcome === "good").at(-1);
  const [pair, setPair] = useState([good?.id ?? part.attempts[0]?.id ?? 0, last?.id ?? 0]);
  if (part.attempts.length < 2) return null;
  const options = part.attempts.map((row) => ({
    value: String(row.id),
    text: `${row.number}, ${dayOf(row.happened_at)}, ${row.said}`,
  }));
  const now = { value: String(PROFILE_NOW), text: "The profile as it is now" };
  const [one = 0, other = 0] = pair;
  return (
    <section aria-label="Between two attempts">
      <h2 className="mb-1 text-name">Between two attempts</h2>
      <div className="grid max-w-190 gap-4 desk:grid-cols-2">
        <Choice
          label="From"
          value={String(one)}
          onChange={(id) => setPair([Number(id), other])}
          options={options}
        />
        <Choice
          label="To"
          value={String(other)}
          onChange={(id) => setPair([one, Number(id)])}
          options={[...options, now]}
        />
      </div>
      {one !== other &&
        (other === PROFILE_NOW ? (
          <Since printId={one} against={PROFILE_NOW} />
        ) : (
          <Since printId={other} against={one} />
        ))}
    </section>
  );
}

/** Most that a setting can do on a scale of 0 to 4, as drawn. */
const MOST = 4;

/** An effect with its interval about nothing; the words beside it say the same. */
function Effect({ row }: { row: Schemas["FactorOut"] }) {
  const at = (value: number) => 50 + (50 * Math.max(-MOST, Math.min(MOST, value))) / MOST;
  const told = row.verdict !== "cannot_tell";
  return (
    <svg viewBox="0 0 100 12" className="h-6 w-full" preserveAspectRatio="none" aria-hidden="true">
      <path d="M0 6H100" className="stroke-rule" strokeWidth="1" vectorEffect="non-scaling-stroke" />
      <path d="M50 0V12" className="stroke-ink" strokeWidth="1.5" vectorEffect="non-scaling-stroke" />
      <path
        d={`M${at(row.low)} 6H${at(row.high)}`}
        className={told ? "stroke-mark" : "stroke-edge"}
        strokeWidth="3"
        vectorEffect="non-scaling-stroke"
      />
      <path
        d={`M${at(row.effect)} 2V10`}
        className={told ? "stroke-mark" : "stroke-edge"}
        strokeWidth="3"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}

type TableProps = { part: Part; onPhotos: (attempt: Attempt) => void };

/** A column for each attempt, the newest first; a row for each sign and for everything that was not always the same. */
function Table({ part, onPhotos }: TableProps) {
  const order = part.attempts.map((_, place) => place).reverse();
  const shown = (place: number) => part.attempts[place] as Attempt;
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls sideways, and its columns are reached with the arrows.
    <section aria-label="All attempts" tabIndex={0} className="relative overflow-x-auto">
      <table className="border-collapse text-body">
        <thead>
          <tr className="border-b-2 border-ink align-bottom">
            <th
              scope="col"
              className="sticky left-0 z-1 bg-sheet py-1 pr-4 text-left text-small font-normal text-ink-2"
            >
              Attempt
            </th>
            {order.map((place) => {
              const row = shown(place);
              return (
                <th key={row.id} scope="col" className="min-w-36 px-3 py-1 text-left font-normal">
                  <Photos attempt={row} onOpen={() => onPhotos(row)} />
                  <strong className="text-name">{row.number}</strong>{" "}
                  <span className="text-small text-ink-2">{dayOf(row.happened_at)}</span>
                  <span className="block text-small text-ink-2">
                    {row.setup}, {row.person}
                  </span>
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          <tr className="border-b border-rule align-top">
            <Head>How it came out</Head>
            {order.map((place) => (
              <td key={place} className={`px-3 py-1 ${COLOURS[shown(place).outcome]}`}>
                {shown(place).said}
              </td>
            ))}
          </tr>
          {part.rows.map((row) => (
            <tr key={`${row.of} ${row.name}`} className="border-b border-rule align-top">
              <Head>{row.name}</Head>
              {order.map((place) => {
                const cell = row.cells[place];
                return (
                  <td
                    key={place}
                    className={`px-3 py-1 ${cell?.changed ? "border-l-4 border-mark bg-well font-semibold" : ""}`}
                  >
                    {cell?.text}
                    {cell?.changed && row.of !== "sign" && <span className="sr-only"> (changed)</span>}
                  </td>
                );
              })}
            </tr>
          ))}
          <tr className="align-top">
            <Head>Note</Head>
            {order.map((place) => (
              <td key={place} className="note max-w-60 px-3 py-1">
                {shown(place).note}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </section>
  );
}

function Head({ children }: { children: string }) {
  return (
    <th
      scope="row"
      className="sticky left-0 z-1 max-w-32 bg-sheet py-1 pr-4 text-left font-semibold desk:max-w-none desk:whitespace-nowrap"
    >
      {children}
    </th>
  );
}

function Photos({ attempt, onOpen }: { attempt: Attempt; onOpen: () => void }) {
  const newest = attempt.photos.at(-1);
  if (!newest) {
    return (
      <button
        type="button"
        className="link block min-h-11 text-small text-ink-2"
        aria-label={`Add a photo of attempt ${attempt.number}`}
        onClick={onOpen}
      >
        Add a photo
      </button>
    );
  }
  return (
    <button
      type="button"
      className="mb-1 block h-24 w-32 cursor-pointer border border-edge"
      aria-label={`Photos of attempt ${attempt.number}`}
      onClick={onOpen}
    >
      <img
        src={`/api/v1/print-photos/${newest.id}?small=true`}
        alt={newest.note || `Attempt ${attempt.number}`}
        className="h-full w-full object-cover"
      />
    </button>
  );
}

/** How long it takes with other nozzles and layers, with the law that says so. */
function Times({ times }: { times: readonly string[] }) {
  const law = times.at(-1);
  if (!law) return null;
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2 text-name">With other lines</summary>
      <ul className="text-body">
        {times.slice(0, -1).map((said) => (
          <li key={said}>{said}</li>
        ))}
      </ul>
      <p className="max-w-160 text-small text-ink-2">{law}</p>
    </details>
  );
}

/** The plan of a series, and what was found when somebody looked again. */
function Told({ part }: { part: Part }) {
  const drop = useWrite((id: number) =>
    answer(
      api.POST("/api/v1/plans/{plan_id}/withdrawal", {
        params: { path: { plan_id: id }, header: writeHeaders() },
      }),
    ),
  );
  const { plan } = part;
  return (
    <>
      {plan && (
        <section>
          <h2 className="text-name">{plan.name}</h2>
          <ol className="list-decimal pl-6 text-body">
            {plan.places.map((row) => (
              <li key={row.text}>
                {row.text}{" "}
                {row.print_id === null ? (
                  <span className="text-ink-2">not printed yet</span>
                ) : (
                  <Link to={`/attempts/${row.print_id}`} className="link">
                    {row.rating ? `rated ${row.rating}` : "printed, not rated"}
                  </Link>
                )}
              </li>
            ))}
          </ol>
          {plan.said.map((said) => (
            <p key={said} className="text-reason">
              {said}
            </p>
          ))}
          <button type="button" className="link min-h-11 text-body" onClick={() => drop.mutate(plan.id)}>
            Drop this series
          </button>
        </section>
      )}
      {part.looks.some((row) => !row.due) && (
        <section>
          <h2 className="text-name">Looked at later</h2>
          <ul>
            {part.looks
              .filter((row) => !row.due)
              .map((row) => (
                <li key={row.id} className="text-body">
                  {row.said} <span className="note">{row.note}</span>
                </li>
              ))}
          </ul>
        </section>
      )}
    </>
  );
}
