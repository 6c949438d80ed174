import { Radio, RadioGroup } from "@headlessui/react";
import { type FormEvent, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useStartForm } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { TitleBlock } from "../../instrument/TitleBlock";
import { Choice, Field, useRefused } from "../../shell/Field";
import { isPhone } from "../../shell/isPhone";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";
import { AddInstrument } from "./AddInstrument";
import { Cautions } from "./Cautions";

type Start = Schemas["EStepsStartOut"];
type Method = Schemas["Method"];

/** Choose how to measure, confirm what the machine has, start. */
export function StartScreen() {
  const setupId = Number(useParams().setupId);
  const start = useStartForm(setupId);
  if (start.data) return <StartForm key={setupId} start={start.data} />;
  return (
    <Page tab="Runs" keys={[]} back="/">
      {start.isError ? <Trouble error={start.error} onAgain={() => start.refetch()} /> : <Waiting />}
    </Page>
  );
}

type Typed = {
  method: Method;
  instrument: string;
  current: string;
  commanded: string;
  mark: string;
  mass: string;
  length: string;
  lengthTool: string;
  fedAt: string;
  asTyped: boolean;
};

function StartForm({ start }: { start: Start }) {
  const navigate = useNavigate();
  const [typed, setTyped] = useState<Typed>(() => ({
    method: start.method,
    instrument: "",
    current: "",
    commanded: start.commanded,
    mark: start.mark,
    mass: "",
    length: "",
    lengthTool: "",
    fedAt: "",
    asTyped: false,
  }));
  const [adding, setAdding] = useState(false);
  const set = (change: Partial<Typed>) => setTyped((before) => ({ ...before, ...change }));
  const method = start.methods.find((row) => row.method === typed.method) ?? start.methods[0];
  const lengthTools = start.methods.find((row) => row.method === "open_air")?.instruments ?? [];
  const tool =
    method?.instruments.find((row) => String(row.id) === typed.instrument) ?? method?.instruments[0];
  const lengthTool = lengthTools.find((row) => String(row.id) === typed.lengthTool) ?? lengthTools[0];
  const write = useWrite(
    () =>
      answer(
        api.POST("/api/v1/e-steps-runs", {
          params: { header: writeHeaders() },
          body: {
            setup_id: start.setup.id,
            method: typed.method,
            instrument_id: tool?.id ?? 0,
            current: typed.current,
            commanded: typed.commanded,
            mark: typed.mark,
            reference_mass: typed.mass,
            reference_length: typed.length,
            reference_length_instrument_id: lengthTool?.id ?? null,
            fed_at: typed.fedAt ? new Date(typed.fedAt).toISOString() : null,
            current_as_typed: typed.asTyped,
          },
        }),
      ),
    (run) => navigate(`/runs/${run.id}`, { replace: true }),
  );
  const said = (field: string) => problemAt(write.error, field)?.message;
  const doubt = problemAt(write.error, "current");
  const form = useRefused(write.error);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (tool) write.mutate(undefined);
  };
  return (
    <Page tab="Runs" keys={[]} back="/" title={<StartTitle start={start} />}>
      <form
        ref={form}
        onSubmit={submit}
        className="grid flex-1 desk:grid-cols-2 wide:grid-cols-[22rem_1fr_24rem]"
      >
        <div className="border-r border-rule px-3 py-4 desk:px-6">
          <RadioGroup
            value={typed.method}
            onChange={(value) => set({ method: value, instrument: "" })}
            aria-label="How to measure"
          >
            <div className="mb-2 flex items-baseline justify-between">
              <h1 className="text-cell">How to measure</h1>
              <Link
                className="link flex min-h-11 items-center text-body"
                to={`/setups/${start.setup.id}/run-sheet`}
              >
                On paper
              </Link>
            </div>
            {start.methods.map((row) => (
              <Radio
                as="div"
                key={row.method}
                value={row.method}
                className="mb-2 cursor-pointer border border-edge p-3 data-checked:border-2 data-checked:border-mark data-checked:bg-well"
              >
                <span className="block text-name font-[650]">{row.name}</span>
                {row.why.map((line) => (
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
        </div>
        <div className="border-r border-rule px-3 py-4 desk:px-6">
          <Cautions cautions={start.cautions[typed.method] ?? []} />
          <h2 className="mt-4 mb-2 text-cell">How it goes</h2>
          <ol className="list-decimal space-y-1 pl-5 text-reason">
            {method?.procedure.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ol>
        </div>
        <div className="space-y-3 bg-well px-3 py-4 desk:col-span-2 desk:px-6 wide:col-span-1">
          <Field
            label={`The machine's ${start.setting_name} now`}
            value={typed.current}
            decimal
            autoFocus={!isPhone()}
            unit={start.unit_text}
            onChange={(current) => set({ current, asTyped: false })}
            problem={doubt?.message}
            hint={
              <>
                {start.how_to_read}
                {start.recorded && <> On record: {start.recorded.setting}; what the machine says counts.</>}
              </>
            }
            extra={
              doubt?.confirmable && (
                <div className="mt-2 flex gap-3">
                  {doubt.suggested && (
                    <button
                      type="button"
                      className="button"
                      onClick={() => set({ current: doubt.suggested ?? "" })}
                    >
                      Use {doubt.suggested}
                    </button>
                  )}
                  <button type="submit" className="button" onClick={() => set({ asTyped: true })}>
                    It is right as typed
                  </button>
                </div>
              )
            }
          />
          <Field
            label="Length to feed"
            value={typed.commanded}
            decimal
            unit="mm"
            onChange={(commanded) => set({ commanded })}
            problem={said("commanded")}
          />
          {typed.method === "marked" && (
            <Field
              label="Mark, from the entry of the extruder"
              value={typed.mark}
              decimal
              unit="mm"
              onChange={(mark) => set({ mark })}
              problem={said("mark")}
              hint="A fifth farther than what is fed leaves enough to measure."
            />
          )}
          {typed.method === "weighed" && (
            <>
              <Field
                label="Mass of the reference piece"
                value={typed.mass}
                decimal
                unit="g"
                onChange={(mass) => set({ mass })}
                problem={said("reference_mass")}
              />
              <Field
                label="Length of the reference piece"
                value={typed.length}
                decimal
                unit="mm"
                onChange={(length) => set({ length })}
                problem={said("reference_length")}
              />
              <Choice
                label="Reference measured with"
                value={String(lengthTool?.id ?? "")}
                onChange={(lengthTool) => set({ lengthTool })}
                options={lengthTools.map((row) => ({
                  value: String(row.id),
                  text: `${row.name}, ${row.detail}`,
                }))}
                problem={said("reference_length_instrument_id")}
              />
            </>
          )}
          {tool && (
            <Choice
              label="Measuring tool"
              value={String(tool.id)}
              onChange={(instrument) => set({ instrument })}
              hint={tool.zero_checked ?? "zero not checked yet"}
              options={
                method?.instruments.map((row) => ({
                  value: String(row.id),
                  text: `${row.name}, ${row.detail}`,
                })) ?? []
              }
              problem={said("instrument_id")}
            />
          )}
          <button type="button" className="link min-h-11 text-body" onClick={() => setAdding(true)}>
            Add a measuring tool
          </button>
          <Field
            label="Fed earlier? When (leave empty for now)"
            type="datetime-local"
            value={typed.fedAt}
            onChange={(fedAt) => set({ fedAt })}
            problem={said("fed_at")}
          />
          {write.error && write.error.fields.length === 0 && (
            <p role="alert" className="text-care font-semibold text-out">
              {write.error.detail}
            </p>
          )}
          <button type="submit" className="button button-main w-full" disabled={!tool || write.isPending}>
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
      </form>
      {adding && (
        <AddInstrument
          kind={typed.method === "weighed" ? "scale" : "calliper"}
          onAdded={(made) => {
            set({ instrument: String(made.id) });
            setAdding(false);
          }}
          onClose={() => setAdding(false)}
        />
      )}
    </Page>
  );
}

function StartTitle({ start }: { start: Start }) {
  return (
    <TitleBlock
      cells={[
        { label: "New run", value: "E-steps", wide: true },
        { label: "Machine", value: start.setup.machine, detail: start.setup.machine_detail },
        { label: "Hotend", value: start.setup.hotend, detail: start.setup.hotend_detail },
        { label: "Filament", value: start.setup.filament, detail: start.setup.filament_detail },
      ]}
    />
  );
}
