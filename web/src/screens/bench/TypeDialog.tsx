import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useTypedForm } from "../../api/queries";
import { Choice, Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
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

type TypingProps = {
  setupId: number;
  fields: readonly Schemas["TypedFieldOut"][];
  onClose: () => void;
};

function Typing({ setupId, fields, onClose }: TypingProps) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [second, setSecond] = useState<Record<string, string>>({});
  const [origin, setOrigin] = useState<Origin>("typed");
  const [note, setNote] = useState("");
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/values", {
          params: { path: { setup_id: setupId }, header: writeHeaders() },
          body: {
            origin,
            note,
            values: fields
              .filter((field) => typed[field.kind] ?? second[field.kind])
              .map((field) => ({
                kind: field.kind,
                typed: typed[field.kind] ?? field.now,
                second: second[field.kind] ?? field.second,
              })),
          },
        }),
      ),
    onClose,
  );
  const usual = fields.filter((field) => field.default !== "");
  /** What is usual goes where there is no value and nothing was typed, and leaves again with that choice. */
  const choose = (next: Origin) => {
    const after = { ...typed };
    for (const field of usual) {
      if (next === "family" && !field.now && !after[field.kind]) after[field.kind] = field.default;
      else if (origin === "family" && after[field.kind] === field.default) delete after[field.kind];
    }
    setOrigin(next);
    setTyped(after);
  };
  const form = useRefused(save.error);
  const said = (field: string) => problemAt(save.error, field)?.message;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  return (
    <form ref={form} onSubmit={submit}>
      <div className="grid gap-x-6 gap-y-3 desk:grid-cols-2">
        {fields.map((field, index) => (
          <div key={field.kind} className={field.kind === "heat_bias" ? "contents" : ""}>
            <Field
              label={field.name}
              unit={field.unit_text}
              decimal
              autoFocus={index === 0}
              value={typed[field.kind] ?? ""}
              onChange={(value) => setTyped({ ...typed, [field.kind]: value })}
              hint={hintOf(field)}
              problem={said(`values.${field.kind}`)}
            />
            {field.kind === "heat_bias" && (
              <Field
                label="Really there, by the probe"
                unit={field.unit_text}
                decimal
                value={second[field.kind] ?? ""}
                onChange={(value) => setSecond({ ...second, [field.kind]: value })}
                hint={field.second && `now ${field.second}`}
                problem={said(`values.${field.kind}.second`)}
              />
            )}
          </div>
        ))}
        <Choice
          label="Where from"
          value={origin}
          onChange={choose}
          options={[
            { value: "typed", text: "My own number" },
            { value: "label", text: "The spool's label" },
            ...(usual.length > 0 ? [{ value: "family" as const, text: "What is usual for the family" }] : []),
          ]}
        />
        <Field label="Note" value={note} onChange={setNote} problem={said("note")} />
      </div>
      {said("values") && (
        <p role="alert" className="mt-3 text-care font-semibold text-out">
          {said("values")}
        </p>
      )}
      <FormFoot label="Write it down" pending={save.isPending} error={save.error} onClose={onClose} />
    </form>
  );
}

function hintOf(field: Schemas["TypedFieldOut"]) {
  return [field.now && `now ${field.now}`, field.usual, field.limit].filter(Boolean).join("; ");
}
