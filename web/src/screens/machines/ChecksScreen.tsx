import { type FormEvent, useState } from "react";
import { useParams } from "react-router";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useChecks, useCounters } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { MeshPicture } from "../../instrument/MeshPicture";
import { dayAndTime } from "../../shell/dates";
import { useRefused } from "../../shell/Field";
import { FormFields } from "../../shell/FormFields";
import { FormFoot } from "../../shell/FormFoot";
import { sent, type Values, valuesOf } from "../../shell/form";
import { Modal } from "../../shell/Modal";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";

type Kind = Schemas["CheckKindOut"];
type Check = Schemas["CheckOut"];

/** Checks of a machine: whether readings that follow can be trusted, and what a change of it did. */
export function ChecksScreen() {
  const setupId = Number(useParams().setupId);
  const checks = useChecks(setupId);
  const [asking, setAsking] = useState<Kind | null>(null);
  const { data } = checks;
  const keys = (data?.kinds ?? []).map((kind, place) => ({
    key: String(place + 1),
    label: kind.name,
    run: () => setAsking(kind),
    quiet: true,
  }));
  return (
    <Page tab="Machines" name="Checks" aside={data?.setup.title} keys={keys}>
      <div className="grid w-full gap-x-8 px-3 py-4 desk:grid-cols-[22rem_minmax(0,1fr)] desk:px-6">
        <section aria-label="What can be checked">
          <h1 className="mb-1 text-cell">Checks of {data?.setup.machine ?? "the machine"}</h1>
          {checks.isPending && <Waiting />}
          {checks.isError && !data && <Trouble error={checks.error} onAgain={() => checks.refetch()} />}
          <ul className="border-t-2 border-ink">
            {data?.kinds.map((kind, place) => (
              <li key={kind.kind} className="border-b border-rule">
                <button
                  type="button"
                  className="w-full cursor-pointer py-2 text-left hover:bg-well"
                  onClick={() => setAsking(kind)}
                >
                  <span className="block text-name font-[650]">
                    {kind.name} <KeyHint>{String(place + 1)}</KeyHint>
                  </span>
                  <span className="block text-small text-ink-2">{kind.why}</span>
                </button>
              </li>
            ))}
          </ul>
        </section>
        <section aria-label="Checked so far" className="mt-4 desk:mt-0">
          <h2 className="mb-1 text-cell">Checked so far</h2>
          {data && data.done.length === 0 && (
            <p className="border-t-2 border-ink py-3 text-reason text-ink-2">
              Nothing yet. A number is only as good as what it was read with.
            </p>
          )}
          {data && data.done.length > 0 && (
            <ul className="border-t-2 border-ink">
              {data.done.map((row) => (
                <Line key={row.id} row={row} />
              ))}
            </ul>
          )}
          <Wear setupId={setupId} />
        </section>
      </div>
      {asking && <CheckDialog kind={asking} setupId={setupId} onClose={() => setAsking(null)} />}
    </Page>
  );
}

/** What wears: how much it saw since it was last seen to, when to look, and what came before it. */
function Wear({ setupId }: { setupId: number }) {
  const rows = useCounters(setupId).data?.counters ?? [];
  if (rows.length === 0) return null;
  return (
    <section aria-label="What wears" className="mt-6">
      <h2 className="mb-1 text-cell">What wears</h2>
      <ul className="border-t-2 border-ink">
        {rows.map((row) => (
          <li
            key={row.part}
            className="grid gap-x-4 border-b border-rule py-2 desk:grid-cols-[14rem_minmax(0,1fr)]"
          >
            <span className="text-body font-semibold">{row.name}</span>
            <span className="text-body">
              {row.used}
              {row.due && <strong className="block text-stale">{row.advice}</strong>}
              {row.before.length > 0 && (
                <span className="block text-small text-ink-2">before: {row.before.join("; ")}</span>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

const TONES: Record<Schemas["CheckOut"]["grade"], string> = {
  good: "text-asked",
  open: "text-stale",
  bad: "text-out",
};

function Line({ row }: { row: Check }) {
  const back = useWrite(() =>
    answer(
      api.POST("/api/v1/checks/{check_id}/withdrawal", {
        params: { path: { check_id: row.id }, header: writeHeaders() },
      }),
    ),
  );
  const title = <strong className={`text-name font-[650] ${TONES[row.grade]}`}>{row.title}</strong>;
  return (
    <li className="border-b border-rule py-2">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <span className="text-body font-semibold">{row.name}</span>
        {row.withdrawn ? <s>{title}</s> : title}
        <span className="ml-auto text-small text-ink-2">
          {dayAndTime(row.at)}, {row.person}
        </span>
      </div>
      {!row.withdrawn && <p className="text-body">{row.sentence}</p>}
      {!row.withdrawn &&
        row.remarks.map((said) => (
          <p key={said} className="text-body">
            {said}
          </p>
        ))}
      {!row.withdrawn && row.mesh.length > 0 && <MeshPicture rows={row.mesh} />}
      <p className="flex flex-wrap items-baseline gap-x-4 text-small text-ink-2">
        {row.change && <span>belongs to: {row.change}</span>}
        {row.note && <span className="note">{row.note}</span>}
        {row.withdrawn ? (
          <span>taken back</span>
        ) : (
          <button
            type="button"
            className="link min-h-8"
            aria-label={`Take back: ${row.name}`}
            onClick={() => back.mutate(undefined)}
          >
            Take back
          </button>
        )}
        {back.error && (
          <span role="alert" className="text-care font-semibold text-out">
            {back.error.detail}
          </span>
        )}
      </p>
    </li>
  );
}

type DialogProps = { kind: Kind; setupId: number; onClose: () => void };

/** One check: how it goes, what was read, and a file where it is a log. */
function CheckDialog({ kind, setupId, onClose }: DialogProps) {
  const [typed, setTyped] = useState<Values>({});
  const [note, setNote] = useState("");
  const body = { kind: kind.kind, values: sent(kind.fields, valuesOf(kind.fields, typed)), note };
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/checks", {
          params: { path: { setup_id: setupId }, header: writeHeaders() },
          body,
        }),
      ),
    onClose,
  );
  const ref = useRefused(save.error);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  return (
    <Modal title={kind.name} onClose={onClose} wide>
      <form ref={ref} onSubmit={submit}>
        <ol className="mb-3 list-decimal pl-5 text-body text-ink-2">
          {kind.procedure.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
        <div className="grid gap-x-6 gap-y-3 desk:grid-cols-2">
          <FormFields
            fields={kind.fields}
            typed={typed}
            onTyped={setTyped}
            problemOf={(field) => problemAt(save.error, field)}
            autoFocus
          />
          {kind.fields.some((field) => field.name === "log") && (
            <label className="block text-body">
              <span className="mb-1 block font-semibold">Or read it from a file</span>
              <input
                type="file"
                accept=".csv,.txt,text/plain,text/csv"
                onChange={async (event) => {
                  const file = event.target.files?.[0];
                  if (file) setTyped({ ...typed, log: await file.text() });
                }}
              />
            </label>
          )}
          <label className="block text-body desk:col-span-2">
            <span className="mb-1 block font-semibold">Note, if you like</span>
            <input className="field" value={note} onChange={(event) => setNote(event.target.value)} />
          </label>
        </div>
        <FormFoot label="Keep it" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
