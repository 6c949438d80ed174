import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import {
  answer,
  api,
  isProblem,
  type Problem,
  problemAt,
  type Schemas,
  writeHeaders,
} from "../../api/client";
import { refresh, useFirstSetup } from "../../api/queries";
import { store } from "../../api/storage";
import { KeyHint } from "../../instrument/KeyHint";
import { Field, useRefused } from "../../shell/Field";
import { FormFields } from "../../shell/FormFields";
import { type FormField, type Values, valuesOf } from "../../shell/form";
import { usePerson } from "../../shell/Person";
import { StopLink } from "../../shell/StopLink";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useAsTyped } from "../../shell/useAsTyped";
import { RestoreBackup } from "./RestoreBackup";
import { SampleRun } from "./SampleRun";

type Props = { workshop: Schemas["WorkshopOut"] };

/** An empty workshop: one short form, then the bench. */
export function FirstSetupScreen({ workshop }: Props) {
  const forms = useFirstSetup();
  return (
    <main className="min-h-dvh bg-sheet">
      <div className="flex items-center border-b-2 border-ink bg-ground px-3 desk:px-6">
        <span className="py-2 text-verdict font-bold">Ubrex</span>
        <StopLink />
      </div>
      {forms.isError && <Trouble error={forms.error} onAgain={() => forms.refetch()} />}
      {forms.isPending && <Waiting />}
      {forms.data && <Filling workshop={workshop} forms={forms.data} />}
    </main>
  );
}

/** What has to be said and nobody can guess; the rest has something usual in it, or stays unknown until it is asked for. */
function isAsked({ needed, value }: FormField): boolean {
  return needed && value === "";
}

type FillingProps = Props & { forms: Schemas["FirstSetupFormOut"] };

function Filling({ workshop, forms }: FillingProps) {
  const { choose } = usePerson();
  const queries = useQueryClient();
  const [setup, setSetup] = useState<Values>({});
  const [tool, setTool] = useState<Values>({});
  const [name, setName] = useState(workshop.people[0]?.name ?? "");
  const [problem, setProblem] = useState<Problem | null>(null);
  const form = useRefused(problem);
  const named = grouped(forms.setup);
  const needed = named
    .flatMap(({ title, fields }) => fields.map((field) => ({ field, title })))
    .filter(({ field }) => isAsked(field))
    .map(({ field, title }) => ({ ...field, label: `${title}: ${field.label.toLowerCase()}` }));
  const others = named.map(({ title, fields }) => ({
    title,
    fields: fields.filter((field) => !isAsked(field)),
  }));
  const values = valuesOf(forms.setup, setup);
  const tools = valuesOf(forms.instrument, tool);
  const { asTyped, confirm } = useAsTyped(
    Object.fromEntries([
      ...Object.entries(values).map(([field, value]) => [`setup.${field}`, value]),
      ...Object.entries(tools).map(([field, value]) => [`instrument.${field}`, value]),
    ]),
  );
  const send = async (meant: string[]) => {
    const body = {
      workshop: "",
      setup: values,
      instrument: tools,
      person: { name },
      as_typed: meant,
    };
    try {
      const made = await answer(
        api.POST("/api/v1/first-setup", { params: { header: writeHeaders() }, body }),
      );
      choose(made.person);
      store("ubrex.setup", String(made.setup_id));
      await refresh(queries);
    } catch (error) {
      if (!isProblem(error)) throw error;
      setProblem(error);
    }
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void send(asTyped);
  };
  const confirmed = (form: string) => (field: string) => void send(confirm(`${form}.${field}`));
  return (
    <form ref={form} onSubmit={submit} className="mx-auto max-w-320 px-3 py-4 desk:px-6">
      <h1 className="text-step leading-tight">Your first setup</h1>
      <p className="mt-1 mb-4 max-w-180 text-reason text-ink-2">
        A tuned value is true for one machine with one hotend, one nozzle and one filament. Say what is on the
        bench. Three names are enough to begin; all of it can be changed later.{" "}
        <a href="#sample" className="link">
          How a run ends
        </a>
      </p>
      <div className="mb-6 grid items-start gap-x-8 gap-y-3 border-b-2 border-ink pb-5 desk:grid-cols-2 wide:grid-cols-[1fr_1fr_1fr_auto]">
        <FormFields
          fields={needed}
          typed={setup}
          onTyped={setSetup}
          problemOf={(field) => problemAt(problem, `setup.${field}`)}
          onConfirm={confirmed("setup")}
          autoFocus
        />
        <Field
          label="Your name"
          value={name}
          onChange={setName}
          problem={problemAt(problem, "person.name")?.message}
          hint="Every entry carries one. No password."
        />
        <button type="submit" className="button button-main mt-7">
          To the bench <KeyHint onBlue>Enter</KeyHint>
        </button>
        {problem && problem.fields.length !== 1 && (
          <p role="alert" className="text-care font-semibold text-out desk:col-span-full">
            {problem.detail}
          </p>
        )}
      </div>
      <h2 className="mb-3 text-cell">What you know already, or as it is usual</h2>
      <div className="grid gap-x-8 gap-y-6 desk:grid-cols-2 wide:grid-cols-4">
        {others.map(({ title, fields }) => (
          <fieldset key={title} className="min-w-0 space-y-3">
            <legend className="mb-2 text-name font-[650]">{title}</legend>
            <FormFields
              fields={fields}
              typed={setup}
              onTyped={setSetup}
              problemOf={(field) => problemAt(problem, `setup.${field}`)}
              onConfirm={confirmed("setup")}
            />
          </fieldset>
        ))}
        <fieldset className="min-w-0 space-y-3">
          <legend className="mb-2 text-name font-[650]">Measuring tool</legend>
          <FormFields
            fields={forms.instrument}
            typed={tool}
            onTyped={setTool}
            problemOf={(field) => problemAt(problem, `instrument.${field}`)}
            onConfirm={confirmed("instrument")}
          />
        </fieldset>
      </div>
      <RestoreBackup />
      <SampleRun sample={forms.sample} />
    </form>
  );
}

/** Fields by the heading they stand under; a field that names none stands under the one before it. */
function grouped(fields: readonly FormField[]): { title: string; fields: FormField[] }[] {
  const groups: { title: string; fields: FormField[] }[] = [];
  for (const field of fields) {
    if (field.group || groups.length === 0) groups.push({ title: field.group, fields: [] });
    groups.at(-1)?.fields.push({ ...field, group: "" });
  }
  return groups;
}
