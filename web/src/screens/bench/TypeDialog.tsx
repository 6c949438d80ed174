import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useTypedForm } from "../../api/queries";
import { Choice, Field, useRefused } from "../../shell/Field";
import { FormFields } from "../../shell/FormFields";
import { FormFoot } from "../../shell/FormFoot";
import type { FormField, Values } from "../../shell/form";
import { Modal } from "../../shell/Modal";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";

type Props = { setupId: number; step: Schemas["Step"]; onClose: () => void };

/** Type the values of one row by hand, or off the label. What is left alone stays as it is. */
export function TypeDialog({ setupId, step, onClose }: Props) {
  const form = useTypedForm(setupId, step);
  return (
    <Modal title={form.data ? `Type in: ${form.data.name}` : "Type in"} onClose={onClose} wide>
      {form.isError && <Trouble error={form.error} onAgain={() => form.refetch()} />}
      {form.isPending && <Waiting />}
      {form.data && <Typing setupId={setupId} fields={form.data.fields} onClose={onClose} />}
    </Modal>
  );
}

type Origin = Schemas["TypedValuesIn"]["origin"];

type TypingProps = { setupId: number; fields: readonly FormField[]; onClose: () => void };

function Typing({ setupId, fields, onClose }: TypingProps) {
  const [typed, setTyped] = useState<Values>({});
  const [origin, setOrigin] = useState<Origin>("typed");
  const [note, setNote] = useState("");
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/values", {
          params: { path: { setup_id: setupId }, header: writeHeaders() },
          body: { origin, note, values: said(fields, typed) },
        }),
      ),
    onClose,
  );
  /** What is usual goes where there is no value and nothing was typed, and leaves again with that choice. */
  const choose = (next: Origin) => {
    const after = { ...typed };
    for (const { name, value, offer } of fields) {
      if (!offer) continue;
      if (next === "family" && !value && !after[name]) after[name] = offer;
      else if (origin === "family" && after[name] === offer) delete after[name];
    }
    setOrigin(next);
    setTyped(after);
  };
  const form = useRefused(save.error);
  const problemOf = (field: string) => problemAt(save.error, field);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  return (
    <form ref={form} onSubmit={submit}>
      <div className="grid gap-x-6 gap-y-3 desk:grid-cols-2">
        <FormFields
          fields={fields.map(asked)}
          typed={typed}
          onTyped={setTyped}
          problemOf={problemOf}
          autoFocus
        />
        <Choice
          label="Where from"
          value={origin}
          onChange={choose}
          options={[
            { value: "typed", text: "My own number" },
            { value: "label", text: "The spool's label" },
            ...(fields.some((field) => field.offer)
              ? [{ value: "family" as const, text: "What is usual for the family" }]
              : []),
          ]}
        />
        <Field label="Note" value={note} onChange={setNote} problem={problemOf("note")?.message} />
      </div>
      {problemOf("values") && (
        <p role="alert" className="mt-3 text-care font-semibold text-out">
          {problemOf("values")?.message}
        </p>
      )}
      <FormFoot label="Write it down" pending={save.isPending} error={save.error} onClose={onClose} />
    </form>
  );
}

/** A field to type a new value into: what is set now stands below it, not in it. */
function asked(field: FormField): FormField {
  const below = [field.value && `now ${field.value}`, field.usual, field.hint].filter(Boolean).join("; ");
  return { ...field, value: "", usual: "", hint: below };
}

/** What was typed, and nothing that was left alone. */
function said(fields: readonly FormField[], typed: Values): Record<string, string> {
  return Object.fromEntries(fields.flatMap(({ name }) => (typed[name] ? [[name, typed[name]]] : [])));
}
