import { type FormEvent, useState } from "react";
import { answer, api, editHeaders, problemAt, type Schemas, writeHeaders } from "../api/client";
import { useRecordForm } from "../api/queries";
import { Choice, Field, useRefused } from "./Field";
import { FormFoot } from "./FormFoot";
import { Modal } from "./Modal";
import { Trouble, Waiting } from "./Trouble";
import { useWrite } from "./useWrite";

export type RecordOpen = { kind: Schemas["RecordKind"]; id: number | null; parent?: number | null };

type Props = { open: RecordOpen; onClose: () => void };

/** The form of any record: its fields come from the server, with what they mean and how far they may lie. */
export function RecordDialog({ open, onClose }: Props) {
  const form = useRecordForm(open.kind, open.id);
  const title = form.data ? `${open.id === null ? "Add a" : "Change this"} ${form.data.noun}` : "Reading …";
  return (
    <Modal title={title} onClose={onClose} wide>
      {form.isError && <Trouble error={form.error} onAgain={() => form.refetch()} />}
      {form.isPending && <Waiting />}
      {form.data && <Filling form={form.data} parent={open.parent ?? null} onClose={onClose} />}
    </Modal>
  );
}

type FillingProps = { form: Schemas["FormOut"]; parent: number | null; onClose: () => void };

function Filling({ form, parent, onClose }: FillingProps) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const values = Object.fromEntries(
    form.fields.map((field) => [field.name, typed[field.name] ?? field.value]),
  );
  const body = { values, parent_id: parent };
  const save = useWrite(
    () =>
      answer<Schemas["FormOut"]>(
        form.id === null
          ? api.POST("/api/v1/records/{kind}", {
              params: { path: { kind: form.kind }, header: writeHeaders() },
              body,
            })
          : api.PUT("/api/v1/records/{kind}/{record_id}", {
              params: { path: { kind: form.kind, record_id: form.id }, header: editHeaders(form.version) },
              body,
            }),
      ),
    onClose,
  );
  const retire = useWrite(
    () =>
      answer(
        api.POST("/api/v1/records/{kind}/{record_id}/retirement", {
          params: { path: { kind: form.kind, record_id: form.id ?? 0 }, header: writeHeaders(form.version) },
        }),
      ),
    onClose,
  );
  const problem = save.error ?? retire.error;
  const ref = useRefused(problem);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    retire.reset();
    save.mutate(undefined);
  };
  return (
    <form ref={ref} onSubmit={submit}>
      <div className="grid gap-x-6 gap-y-3 desk:grid-cols-2">
        {form.fields.map((field, index) => (
          <AnyField
            key={field.name}
            field={field}
            value={values[field.name] ?? ""}
            onChange={(value) => setTyped({ ...typed, [field.name]: value })}
            problem={problemAt(problem, field.name)?.message}
            autoFocus={index === 0}
          />
        ))}
      </div>
      <FormFoot label="Save" pending={save.isPending} error={problem} onClose={onClose}>
        {form.can_retire && !form.retired && (
          <button type="button" className="button" onClick={() => retire.mutate(undefined)}>
            Retire
          </button>
        )}
      </FormFoot>
    </form>
  );
}

type AnyProps = {
  field: Schemas["FormFieldOut"];
  value: string;
  onChange: (value: string) => void;
  problem?: string;
  autoFocus: boolean;
};

function AnyField({ field, value, onChange, problem, autoFocus }: AnyProps) {
  const group = field.group && (
    <h3 className="border-b border-rule pt-2 text-name desk:col-span-2">{field.group}</h3>
  );
  if (field.kind === "choice") {
    return (
      <>
        {group}
        <Choice
          label={field.label}
          value={value}
          onChange={onChange}
          options={field.options}
          hint={field.hint}
          problem={problem}
        />
      </>
    );
  }
  if (field.kind === "check") {
    return (
      <>
        {group}
        <label className="flex min-h-12 items-center gap-3 self-end text-body font-semibold">
          <input
            type="checkbox"
            className="size-5"
            checked={value === "yes"}
            onChange={(event) => onChange(event.target.checked ? "yes" : "")}
          />
          {field.label}
        </label>
      </>
    );
  }
  if (field.kind === "several") {
    const on = value.split(",").filter(Boolean);
    return (
      <>
        {group}
        <fieldset className="desk:col-span-2">
          <legend className="mb-1 text-body font-semibold">{field.label}</legend>
          <div className="flex flex-wrap gap-x-6">
            {field.options.map((option) => (
              <label key={option.value} className="flex min-h-11 items-center gap-2 text-body">
                <input
                  type="checkbox"
                  className="size-5"
                  checked={on.includes(option.value)}
                  onChange={(event) =>
                    onChange(
                      (event.target.checked
                        ? [...on, option.value]
                        : on.filter((one) => one !== option.value)
                      ).join(","),
                    )
                  }
                />
                {option.text}
              </label>
            ))}
          </div>
          {field.hint && <p className="text-small text-ink-2">{field.hint}</p>}
        </fieldset>
      </>
    );
  }
  if (field.kind === "lines") {
    return (
      <>
        {group}
        <label className="block text-body desk:col-span-2">
          <span className="mb-1 block font-semibold">{field.label}</span>
          <textarea
            className="field min-h-24 py-2"
            spellCheck={false}
            value={value}
            onChange={(event) => onChange(event.target.value)}
          />
          {problem && <span className="mt-1 block text-care font-semibold text-out">{problem}</span>}
          {field.hint && !problem && <span className="mt-1 block text-small text-ink-2">{field.hint}</span>}
        </label>
      </>
    );
  }
  return (
    <>
      {group}
      <Field
        label={field.label}
        value={value}
        onChange={onChange}
        unit={field.unit}
        decimal={field.kind === "number"}
        hint={field.hint}
        problem={problem}
        autoFocus={autoFocus}
      />
    </>
  );
}
