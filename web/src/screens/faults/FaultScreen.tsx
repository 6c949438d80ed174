import { useState } from "react";
import { Link, useParams } from "react-router";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { useFault } from "../../api/queries";
import { FaultDrawing } from "../../instrument/FaultDrawing";
import { dayAndTime } from "../../shell/dates";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useKeptWrite } from "../../shell/useKeptWrite";
import { useWrite } from "../../shell/useWrite";
import { Beside } from "./Beside";
import { Causes } from "./Causes";
import { Check } from "./Check";
import { CloseCase } from "./CloseCase";
import { Mend } from "./Mend";

type Sheet = Schemas["FaultSheetOut"];
export type Give = (
  given: Partial<Schemas["FaultAnswerIn"]> & Pick<Schemas["FaultAnswerIn"], "kind" | "key">,
) => void;

/** One case, one sheet: every cause stays in sight and moves with each look; the next look, or what to try. */
export function FaultScreen() {
  const faultId = Number(useParams().faultId);
  const fault = useFault(faultId);
  const sheet = fault.data;
  const [skipped, setSkipped] = useState<readonly string[]>([]);
  const [trying, setTrying] = useState<string | null>(null);
  const [closing, setClosing] = useState(false);
  const give = useKeptWrite(
    (given: Parameters<Give>[0]) => ({
      path: `/api/v1/faults/${faultId}/answers`,
      body: { answer: "", unsure: false, write_down: false, note: "", ...given },
      what: "An answer of a case",
      to: `/faults/${faultId}`,
    }),
    (waits) => {
      setTrying(null);
      // Odds are worked out in the workshop: without it the next looks are there all the same.
      if (waits && check) setSkipped((before) => [...before, check.key]);
    },
  );
  const undo = useWrite((id: number) =>
    answer(
      api.POST("/api/v1/fault-answers/{answer_id}/withdrawal", {
        params: { path: { answer_id: id }, header: writeHeaders() },
      }),
    ),
  );
  const reopen = useWrite(() =>
    answer(
      api.POST("/api/v1/faults/{fault_id}/reopening", {
        params: { path: { fault_id: faultId }, header: writeHeaders() },
      }),
    ),
  );
  const checks = sheet ? [sheet.next, ...sheet.others].filter((one) => one !== null) : [];
  // What is gone is watched: there is nothing left to look for.
  const watched = sheet?.verdict === "watch";
  const check = watched ? null : (checks.find((one) => !skipped.includes(one.key)) ?? checks[0] ?? null);
  const stopped = (sheet?.stop.length ?? 0) > 0;
  const remedy =
    [sheet?.remedy, ...(sheet?.remedies ?? [])].find((one) => one?.key === trying) ??
    (sheet?.verdict === "try" ? sheet.remedy : null);
  const asks = check?.asks.length === 1 ? check.asks[0] : undefined;
  const last = sheet?.answered[0];
  const looking = sheet && !sheet.closed && !stopped && check && !remedy;
  const keys = sheet
    ? [
        ...(looking && asks
          ? asks.options.map((option, place) => ({
              key: String(place + 1),
              label: option.text,
              quiet: true,
              run: () => give.mutate({ kind: "finding", key: asks.key, answer: option.key }),
            }))
          : []),
        ...(looking
          ? [{ key: "N", label: "next best", run: () => setSkipped([...skipped, check.key]) }]
          : []),
        ...(last && !sheet.closed ? [{ key: "U", label: "undo", run: () => undo.mutate(last.id) }] : []),
      ]
    : [];
  return (
    <Page
      tab="Faults"
      name={sheet?.complaint ?? "Case"}
      {...(sheet ? { aside: sheet.setup.title, setupId: sheet.setup.id } : {})}
      back="/faults"
      keys={keys}
    >
      {fault.isPending && <Waiting />}
      {fault.isError && !sheet && <Trouble error={fault.error} onAgain={() => fault.refetch()} />}
      {sheet && (
        <div className="flex min-h-0 flex-1 flex-col">
          <Head sheet={sheet} />
          <div className="flex min-h-0 flex-1 flex-col wide:flex-row">
            <div className="min-w-0 flex-1 wide:overflow-y-auto">
              {stopped ? (
                <StopFirst sheet={sheet} onDone={(key) => give.mutate({ kind: "stopped", key })} />
              ) : (
                <Causes sheet={sheet} />
              )}
            </div>
            {!stopped && (
              <div className="order-first shrink-0 border-b-2 border-ink bg-well px-3 py-3 desk:px-6 wide:order-none wide:w-92 wide:border-b-0 wide:overflow-y-auto wide:border-l wide:border-rule">
                {sheet.closed ? (
                  <Closed sheet={sheet} onReopen={() => reopen.mutate(undefined)} />
                ) : remedy ? (
                  <Mend
                    remedy={remedy}
                    key={remedy.key}
                    setupId={sheet.setup.id}
                    onResult={(result, write_down) =>
                      give.mutate({ kind: "remedy", key: remedy.key, answer: result, write_down })
                    }
                    {...(check ? { onLook: () => setTrying("") } : {})}
                  />
                ) : check ? (
                  <Check
                    key={check.key}
                    check={check}
                    give={give.mutate}
                    onSkip={() => setSkipped([...skipped, check.key])}
                  />
                ) : (
                  <p className="text-reason">{sheet.said}</p>
                )}
                {give.error && (
                  <p role="alert" className="mt-2 text-care font-semibold text-out">
                    {give.error.detail}
                  </p>
                )}
                {!sheet.closed && !watched && <First sheet={sheet} beside={check?.key} give={give.mutate} />}
              </div>
            )}
            <Beside sheet={sheet} onTry={setTrying} onUndo={undo.mutate} give={give.mutate} />
          </div>
          <div
            role="status"
            className="flex flex-wrap items-center gap-x-6 gap-y-2 border-t-2 border-ink bg-sheet px-3 py-2 desk:px-6"
          >
            <p className="text-reason font-semibold">{stopped ? "Stop first." : sheet.said}</p>
            {!sheet.closed && !stopped && (
              <button type="button" className="button ml-auto" onClick={() => setClosing(true)}>
                Close the case
              </button>
            )}
          </div>
        </div>
      )}
      {sheet && closing && <CloseCase sheet={sheet} onClose={() => setClosing(false)} />}
    </Page>
  );
}

function Head({ sheet }: { sheet: Sheet }) {
  return (
    <div className="border-b-2 border-ink px-3 py-3 desk:px-6">
      <h1 className="flex items-center gap-4 text-cell">
        <FaultDrawing complaint={sheet.complaint_key} />
        {sheet.complaint}
      </h1>
      <p className="text-body text-ink-2">
        {sheet.setup.title}. {sheet.where && `At ${sheet.where}. `}
        {dayAndTime(sheet.at)}, {sheet.person}.{" "}
        {sheet.print_id !== null && (
          <Link className="link" to={`/attempts/${sheet.print_id}`}>
            The attempt
          </Link>
        )}
      </p>
      {sheet.reopened && <p className="text-body font-semibold">{sheet.reopened}</p>}
      {sheet.note && <p className="note">{sheet.note}</p>}
    </div>
  );
}

function StopFirst({ sheet, onDone }: { sheet: Sheet; onDone: (key: string) => void }) {
  return (
    <div className="space-y-6 px-3 py-4 desk:px-6">
      {sheet.stop.map((row) => (
        <section key={row.key} className="border-l-8 border-stale bg-well px-4 py-3">
          <h2 className="text-step text-stale">{row.title}</h2>
          <ol className="mt-2 list-decimal space-y-2 pl-6 text-cell">
            {row.steps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
          <button type="button" className="button mt-4" onClick={() => onDone(row.key)}>
            All of it is done
          </button>
        </section>
      ))}
    </div>
  );
}

/** The two questions that are asked of every fault; never in the way. */
function First({ sheet, beside, give }: { sheet: Sheet; beside: string | undefined; give: Give }) {
  const first = sheet.first.filter((one) => one.key !== beside);
  if (first.length === 0) return null;
  return (
    <section className="mt-5 border-t border-rule pt-3">
      <h2 className="text-name">First</h2>
      {first.flatMap((check) =>
        check.asks.map((asked) => (
          <div key={asked.key} className="mt-2">
            <p className="text-body">{asked.question}</p>
            <div className="mt-1 flex flex-wrap gap-2">
              {asked.options.map((option) => (
                <button
                  key={option.key}
                  type="button"
                  className="min-h-11 cursor-pointer rounded-control border border-edge px-3 text-body font-semibold"
                  onClick={() => give({ kind: "finding", key: asked.key, answer: option.key })}
                >
                  {option.text}
                </button>
              ))}
            </div>
          </div>
        )),
      )}
    </section>
  );
}

function Closed({ sheet, onReopen }: { sheet: Sheet; onReopen: () => void }) {
  return (
    <section>
      <h2 className="text-cell">Closed</h2>
      <p className="mt-2 text-reason">It was: {sheet.cause}.</p>
      <button type="button" className="button mt-3" onClick={onReopen}>
        Reopen
      </button>
    </section>
  );
}
