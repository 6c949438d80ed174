import { useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useGuides } from "../../api/queries";
import { readStored, store } from "../../api/storage";
import { Field } from "../../shell/Field";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";
import { Wait } from "../../shell/Wait";

type Guide = Schemas["GuideOut"];

/** Guides through work at the machine, ticked step by step; what was ticked is kept in this browser until it is done. */
export function GuidesScreen() {
  const setupId = Number(useParams().setupId);
  const guides = useGuides(setupId);
  const [asked, setAsked] = useSearchParams();
  const [typed, setTyped] = useState("");
  const rows = guides.data?.guides ?? [];
  const open = rows.find((row) => row.key === asked.get("guide"));
  const seen = rows.filter((row) =>
    typed
      .toLowerCase()
      .split(/\s+/)
      .every((word) => `${row.name} ${row.words}`.toLowerCase().includes(word)),
  );
  return (
    <Page
      tab="Faults"
      name={open ? open.name : "Guides"}
      {...(guides.data ? { aside: guides.data.setup.title } : {})}
      setupId={setupId}
      keys={open ? [{ key: "Escape", label: "all guides", run: () => setAsked({}) }] : []}
      back="/"
    >
      <div className="w-full px-3 py-4 desk:px-6">
        {guides.isPending && <Waiting />}
        {guides.isError && !guides.data && <Trouble error={guides.error} onAgain={() => guides.refetch()} />}
        {open ? (
          <Walk key={open.key} guide={open} setupId={setupId} onLeave={() => setAsked({})} />
        ) : (
          <>
            <h1 className="text-cell">Guides</h1>
            <p className="mb-2 text-body text-ink-2">{guides.data?.setup.title}</p>
            <label className="mb-3 block max-w-140 text-body">
              <span className="mb-1 block font-semibold">In your own words</span>
              <input
                className="field"
                value={typed}
                autoComplete="off"
                onChange={(event) => setTyped(event.target.value)}
              />
            </label>
            <ul className="grid gap-x-6 border-t-2 border-ink desk:grid-cols-2">
              {seen.map((row) => (
                <li key={row.key} className="border-b border-rule">
                  <button
                    type="button"
                    className="link flex min-h-12 items-center text-left text-name"
                    onClick={() => setAsked({ guide: row.key })}
                  >
                    {row.name}
                  </button>
                </li>
              ))}
            </ul>
          </>
        )}
      </div>
    </Page>
  );
}

/** The guide that remembers how parts let go. */
const REMOVAL = "removal";

function Walk({ guide, setupId, onLeave }: { guide: Guide; setupId: number; onLeave: () => void }) {
  const place = `ubrex.guide.${setupId}.${guide.key}`;
  const [done, setDone] = useState(() => Number(readStored(place)) || 0);
  const step = guide.steps[done];
  const [ended, setEnded] = useState("");
  const go = (to: number) => {
    setEnded("");
    store(place, to > 0 && to <= guide.steps.length ? String(to) : null);
    setDone(to);
  };
  const write = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/changes", {
          params: { path: { setup_id: setupId }, header: writeHeaders() },
          body: { kind: guide.work as NonNullable<Guide["work"]>, note: guide.name, happened_at: null },
        }),
      ),
    () => {
      store(place, null);
      onLeave();
    },
  );
  return (
    <section aria-label={guide.name} className="mx-auto max-w-150">
      <h1 className="text-cell">{guide.name}</h1>
      <p className="mb-3 text-body text-ink-2">
        {step ? `Step ${done + 1} of ${guide.steps.length}` : "All steps are done"}
      </p>
      {step && (
        <>
          {step.cautions.map((line) => (
            <p key={line} className="mb-1 text-care font-semibold text-stale">
              {line}
            </p>
          ))}
          <p className="my-3 text-verdict font-semibold">{step.do}</p>
          {step.wait_s > 0 && (
            <Wait
              key={done}
              name={`guide.${setupId}.${guide.key}.${done}`}
              seconds={step.wait_s}
              className="button mb-2 w-full justify-center text-verdict"
            />
          )}
          {step.asks.length === 0 && (
            <button type="button" className="button button-main mt-2 w-full" onClick={() => go(done + 1)}>
              Done
            </button>
          )}
          {step.asks.map((ask) => (
            <button
              key={ask.text}
              type="button"
              className="button mt-2 min-h-15 w-full justify-start text-left"
              onClick={() => (ask.to === null ? setEnded(ask.said) : go(ask.to))}
            >
              {ask.text}
            </button>
          ))}
          {ended && (
            <p
              role="alert"
              className="mt-3 border-l-4 border-stale bg-well px-3 py-2 text-reason font-semibold"
            >
              {ended}
            </p>
          )}
          {guide.key === REMOVAL && <LetGo setupId={setupId} />}
        </>
      )}
      {!step && guide.work !== null && (
        <button
          type="button"
          className="button button-main w-full"
          disabled={write.isPending}
          onClick={() => write.mutate(undefined)}
        >
          Write it down: {guide.work_name}
        </button>
      )}
      {write.error && (
        <p role="alert" className="mt-2 text-care font-semibold text-out">
          {write.error.fields[0]?.message ?? write.error.detail}
        </p>
      )}
      <div className="mt-3 flex flex-wrap gap-x-6">
        {done > 0 && (
          <button type="button" className="link min-h-11 text-body" onClick={() => go(done - 1)}>
            One step back
          </button>
        )}
        <button
          type="button"
          className="link min-h-11 text-body"
          onClick={() => {
            if (!step) store(place, null);
            onLeave();
          }}
        >
          {step ? "Leave it here; it goes on from this step" : "Without writing it down"}
        </button>
      </div>
      <ol className="mt-6 list-decimal border-t border-rule pt-3 pl-6 text-body">
        {guide.steps.map((row, index) => (
          <li key={row.do} className={index < done ? "text-ink-2 line-through" : ""}>
            {row.do}
          </li>
        ))}
      </ol>
    </section>
  );
}

/** How a part came off, or what did not help: remembered for this family on this surface. */
function LetGo({ setupId }: { setupId: number }) {
  const [way, setWay] = useState("");
  const keep = useWrite(
    (worked: boolean) =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/let-go", {
          params: { path: { setup_id: setupId }, header: writeHeaders() },
          body: { way, worked },
        }),
      ),
    () => setWay(""),
  );
  return (
    <div className="mt-4 border-t border-rule pt-3">
      <Field
        label="How it came off, or what did not help"
        value={way}
        onChange={setWay}
        problem={problemAt(keep.error, "way")?.message ?? keep.error?.detail}
      />
      <div className="mt-2 flex gap-2">
        <button type="button" className="button flex-1" onClick={() => keep.mutate(true)}>
          It let go
        </button>
        <button type="button" className="button flex-1" onClick={() => keep.mutate(false)}>
          It did not help
        </button>
      </div>
    </div>
  );
}
