import { Radio, RadioGroup } from "@headlessui/react";
import { type FormEvent, useDeferredValue, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { usePiece, useStart } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { PiecePlan, PieceSide } from "../../instrument/PiecePlan";
import { TitleBlock } from "../../instrument/TitleBlock";
import { Choice, useRefused } from "../../shell/Field";
import { FormFields } from "../../shell/FormFields";
import { sent, type Values, valuesOf } from "../../shell/form";
import { isPhone } from "../../shell/isPhone";
import { Page } from "../../shell/Page";
import { ScrollEnd } from "../../shell/ScrollEnd";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useAsTyped } from "../../shell/useAsTyped";
import { useWrite } from "../../shell/useWrite";
import { AddInstrument } from "./AddInstrument";
import { Cautions } from "./Cautions";
import { MethodDrawing } from "./MethodDrawing";
import { School } from "./School";
import { WetTest } from "./WetTest";

type Start = Schemas["StartOut"];
type Step = Start["step"];

/** Before a run: which way, with which numbers, what the piece looks like, what it takes. */
export function MeasureScreen() {
  const { setupId, step } = useParams();
  const start = useStart(Number(setupId), step as Step);
  if (start.data) return <MeasureForm key={`${setupId}${step}`} start={start.data} />;
  return (
    <Page tab="Runs" keys={[]} back="/">
      {start.isError ? <Trouble error={start.error} onAgain={() => start.refetch()} /> : <Waiting />}
    </Page>
  );
}

function MeasureForm({ start }: { start: Start }) {
  const navigate = useNavigate();
  const [method, setMethod] = useState(start.method);
  const [asked] = useSearchParams();
  const [typed, setTyped] = useState<Values>(() => Object.fromEntries(asked));
  const [instrument, setInstrument] = useState("");
  const [adding, setAdding] = useState(false);
  const way = start.methods.find((row) => row.method === method) ?? start.methods[0];
  const fields = way?.fields ?? [];
  const values = sent(fields, valuesOf(fields, typed));
  const { asTyped, confirm } = useAsTyped(values);
  const tool = way?.instruments.find((row) => String(row.id) === instrument) ?? way?.instruments[0];
  const shown = useDeferredValue({ method, values, as_typed: [] });
  const piece = usePiece(start.setup.id, shown, way?.prints ?? false);
  const write = useWrite(
    (meant: readonly string[]) =>
      answer(
        api.POST("/api/v1/runs", {
          params: { header: writeHeaders() },
          body: {
            setup_id: start.setup.id,
            step: start.step,
            method,
            instrument_id: tool?.id ?? null,
            values,
            as_typed: [...meant],
          },
        }),
      ),
    (run) => navigate(`/runs/${run.id}`, { replace: true }),
  );
  const problemOf = (field: string) => problemAt(write.error, field) ?? problemAt(piece.error, field);
  const form = useRefused(write.error);
  const [goOn, setGoOn] = useState(false);
  const ready = way !== undefined && (tool !== undefined || way.missing === "");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (ready) write.mutate(asTyped);
  };
  if (!way) return null;
  if (start.wet_test && !goOn)
    return <WetTest start={start} test={start.wet_test} onGoOn={() => setGoOn(true)} />;
  const trouble = write.error ?? (piece.error as Schemas["ProblemOut"] | null);
  return (
    <Page
      tab="Runs"
      name={`New run: ${start.name}`}
      keys={[{ key: "Enter", label: "start", run: () => form.current?.requestSubmit() }]}
      back="/"
      title={
        <TitleBlock
          cells={[
            { label: "New run", value: start.name, wide: true },
            { label: "Machine", value: start.setup.machine, detail: start.setup.hotend_detail },
            { label: "Nozzle", value: start.setup.nozzle, detail: "bore in mm, material" },
            { label: "Filament", value: start.setup.filament, detail: start.setup.filament_detail },
          ]}
        />
      }
    >
      <form
        ref={form}
        onSubmit={submit}
        className="grid flex-1 desk:grid-cols-2 desk:min-h-0 desk:overflow-y-auto wide:grid-cols-[24rem_1fr_21rem] wide:overflow-hidden"
      >
        <div className="space-y-3 border-r border-rule px-3 py-4 desk:px-6 wide:overflow-y-auto">
          <h1 className="text-cell">How to measure</h1>
          {start.methods.length === 1 &&
            way.why.map((line) => (
              <p key={line} className="text-body text-ink-2">
                {line}
              </p>
            ))}
          {start.methods.length > 1 && (
            <RadioGroup value={method} onChange={setMethod} aria-label="How to measure">
              {start.methods.map((row) => (
                <Radio
                  as="div"
                  key={row.method}
                  value={row.method}
                  className="mb-2 cursor-pointer border border-edge px-3 py-2 data-checked:border-2 data-checked:border-mark data-checked:bg-well"
                >
                  <span className="block text-name font-[650]">{row.name}</span>
                  {row === way &&
                    row.why.map((line) => (
                      <span key={line} className="block text-body text-ink-2">
                        {line}
                      </span>
                    ))}
                  {row.missing && (
                    <span className="block text-body font-semibold text-stale">{row.missing}</span>
                  )}
                </Radio>
              ))}
            </RadioGroup>
          )}
          <div className="grid grid-cols-2 items-start gap-x-4 gap-y-3">
            <FormFields
              fields={fields}
              typed={typed}
              onTyped={setTyped}
              problemOf={problemOf}
              onConfirm={(field) => write.mutate(confirm(field))}
              autoFocus={!isPhone()}
            />
          </div>
          <ScrollEnd className="-bottom-4 bg-sheet wide:block" />
        </div>
        <section
          aria-label="The piece"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, and holds nothing that takes the focus.
          tabIndex={0}
          className="border-r border-rule bg-well px-3 py-4 desk:px-6 wide:overflow-y-auto"
        >
          {!way.prints && <h2 className="text-cell">{way.name}</h2>}
          {way.drawing && <MethodDrawing drawing={way.drawing} />}
          {piece.data && way.prints && (
            <>
              <div className="flex flex-wrap items-baseline gap-x-6">
                <h2 className="text-cell">{piece.data.name}</h2>
                <p className="text-reason">
                  <strong>{piece.data.grams}</strong>, {piece.data.minutes}
                </p>
              </div>
              <div className={piece.data.bands.length > 0 ? "grid items-end gap-4 desk:grid-cols-2" : ""}>
                <PiecePlan piece={piece.data} />
                <PieceSide piece={piece.data} />
              </div>
              {piece.data.remarks.map((remark) => (
                <p key={remark} className="mt-1 text-body text-ink-2">
                  {remark}
                </p>
              ))}
            </>
          )}
          <div className="mt-3 mb-1 flex items-baseline justify-between">
            <h2 className="text-name">How it goes</h2>
            {!way.prints && (
              <Link
                className="link flex min-h-11 items-center text-body"
                to={`/setups/${start.setup.id}/run-sheet/${start.step}`}
              >
                On paper
              </Link>
            )}
          </div>
          <ol className="list-decimal space-y-1 pl-5 text-body">
            {way.procedure.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ol>
          <ScrollEnd className="-bottom-4 bg-well wide:block" />
        </section>
        <div className="flex flex-col px-3 pt-4 desk:px-6 wide:min-h-0">
          <section
            aria-label="Cautions"
            // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, and may hold nothing that takes the focus.
            tabIndex={0}
            className="flex-1 space-y-3 wide:min-h-0 wide:overflow-y-auto"
          >
            <Cautions cautions={way.cautions} />
            {start.rests_on && <p className="text-reason">{start.rests_on}</p>}
            {start.schools.map((school) => (
              <School key={school.key} school={school} heading="h3" />
            ))}
            <ScrollEnd className="bottom-0 bg-sheet wide:block" />
          </section>
          <div className="shrink-0 space-y-2 py-3 wide:border-t wide:border-rule">
            {tool ? (
              <Choice
                label="Measuring tool"
                value={String(tool.id)}
                onChange={setInstrument}
                hint={[[tool.detail, tool.zero_checked].filter(Boolean).join(", "), tool.sees]
                  .filter(Boolean)
                  .join(". ")}
                options={way.instruments.map((row) => ({ value: String(row.id), text: row.name }))}
                problem={problemOf("instrument_id")?.message}
              />
            ) : (
              way.missing && <p className="text-care font-semibold text-stale">{way.missing}</p>
            )}
            {(tool || way.missing) && (
              <button type="button" className="link min-h-11 text-body" onClick={() => setAdding(true)}>
                Add a measuring tool
              </button>
            )}
            {trouble && trouble.fields.length === 0 && (
              <p role="alert" className="text-care font-semibold text-out">
                {trouble.detail}
              </p>
            )}
            <button type="submit" className="button button-main w-full" disabled={!ready || write.isPending}>
              Start <KeyHint onBlue>Enter</KeyHint>
            </button>
            {start.open_run_id !== null && (
              <p className="text-body">
                Run {start.open_run_id} is open on this setup.{" "}
                <button type="button" className="link" onClick={() => navigate(`/runs/${start.open_run_id}`)}>
                  Go on with it
                </button>
              </p>
            )}
          </div>
        </div>
      </form>
      {adding && (
        <AddInstrument
          kind={way.instrument_kind}
          onAdded={(made) => {
            setInstrument(String(made.id));
            setAdding(false);
          }}
          onClose={() => setAdding(false)}
        />
      )}
    </Page>
  );
}
