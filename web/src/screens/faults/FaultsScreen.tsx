import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useBench, useFaults } from "../../api/queries";
import { setupOnBench } from "../../api/storage";
import { FaultDrawing } from "../../instrument/FaultDrawing";
import { dayOf } from "../../shell/dates";
import { Field } from "../../shell/Field";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";

/** What is wrong: the cases there are, and what can be seen, to open one. */
export function FaultsScreen({ first }: { first: number }) {
  const faults = useFaults();
  const [asked] = useSearchParams();
  const setupId = Number(asked.get("setup")) || setupOnBench(first);
  const printId = Number(asked.get("print")) || null;
  const setup = useBench(setupId).data?.setup;
  const navigate = useNavigate();
  const [typed, setTyped] = useState(asked.get("said") ?? "");
  const [layer, setLayer] = useState("");
  const [height, setHeight] = useState("");
  const open = useWrite(
    (complaint: string) =>
      answer(
        api.POST("/api/v1/faults", {
          params: { header: writeHeaders() },
          body: { setup_id: setupId, complaint, print_id: printId, note: "", layer, height_mm: height },
        }),
      ),
    (made) => navigate(`/faults/${made.id}`),
  );
  const cases = faults.data?.cases ?? [];
  const found = faults.data?.found ?? [];
  const seen = (faults.data?.complaints ?? []).filter((row) => fits(row, typed));
  return (
    <Page tab="Faults" keys={[]}>
      <div className="grid w-full gap-8 px-3 py-4 desk:px-6 wide:grid-cols-[minmax(0,2fr)_minmax(0,1fr)]">
        <section>
          <h1 className="text-cell">What do you see?</h1>
          <p className="mb-2 text-body text-ink-2">{setup?.title}</p>
          <label className="mb-3 block text-body">
            <span className="mb-1 block font-semibold">In your own words</span>
            <input
              className="field"
              value={typed}
              autoFocus
              autoComplete="off"
              onChange={(event) => setTyped(event.target.value)}
            />
          </label>
          <div className="mb-3 flex max-w-140 flex-wrap gap-4">
            <div className="w-40">
              <Field
                label="Where: at layer"
                decimal
                value={layer}
                onChange={setLayer}
                problem={problemAt(open.error, "layer")?.message}
              />
            </div>
            <div className="w-40">
              <Field
                label="or at a height"
                unit="mm"
                decimal
                value={height}
                onChange={setHeight}
                problem={problemAt(open.error, "height_mm")?.message}
              />
            </div>
          </div>
          {faults.isPending && <Waiting />}
          {faults.isError && <Trouble error={faults.error} onAgain={() => faults.refetch()} />}
          <ul className="grid gap-x-6 desk:grid-cols-2">
            {seen.map((row) => (
              <li key={row.key}>
                <button
                  type="button"
                  className="flex min-h-12 w-full cursor-pointer items-center gap-3 text-left text-body"
                  disabled={open.isPending}
                  onClick={() => open.mutate(row.key)}
                >
                  <FaultDrawing complaint={row.key} />
                  <span className="link">{row.text}</span>
                </button>
              </li>
            ))}
          </ul>
          {faults.data && seen.length === 0 && (
            <p className="text-body text-ink-2">None of these. Use fewer or other words.</p>
          )}
          {open.error && (
            <p role="alert" className="text-care font-semibold text-out">
              {open.error.detail}
            </p>
          )}
        </section>
        <section>
          <h2 className="mb-2 text-cell">Cases</h2>
          {faults.data && cases.length === 0 && (
            <p className="border-t-2 border-ink py-3 text-reason text-ink-2">
              Nothing wrong on record. What you see is enough to open a case.
            </p>
          )}
          <ul className="border-t-2 border-ink">
            {cases.map((row) => (
              <li key={row.id} className="border-b border-rule py-2">
                <Link className="link text-name font-[650]" to={`/faults/${row.id}`}>
                  {row.title}
                </Link>
                <span className="block text-small text-ink-2">
                  {dayOf(row.at)}, {row.person}: {row.closed ? `closed, ${row.leads.toLowerCase()}` : "open"}
                </span>
              </li>
            ))}
          </ul>
          {found.length > 0 && (
            <>
              <h2 className="mt-5 mb-2 text-cell">Found on the way, not mended</h2>
              <ul className="border-t-2 border-ink">
                {found.map((row) => (
                  <li key={`${row.machine} ${row.key}`} className="border-b border-rule py-2 text-body">
                    <Link className="link" to={`/faults/${row.fault_id}`}>
                      {row.machine}: {row.text}
                    </Link>
                    {row.unsafe && <strong className="text-out"> It holds the next job.</strong>}
                  </li>
                ))}
              </ul>
            </>
          )}
          <Link className="link mt-4 flex min-h-11 items-center text-body text-stale" to="/stop">
            It smells burnt, smokes or runs away: stop first
          </Link>
        </section>
      </div>
    </Page>
  );
}

/** Whether every word that was typed is in what it is called, or in the words people use for it. */
function fits(row: Schemas["ComplaintOut"], typed: string) {
  const held = `${row.text} ${row.words}`.toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => held.includes(word));
}
