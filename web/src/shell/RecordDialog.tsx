import { type FormEvent, useState } from "react";
import { answer, api, editHeaders, problemAt, type Schemas, writeHeaders } from "../api/client";
import { useRecordForm } from "../api/queries";
import { useRefused } from "./Field";
import { FormFields } from "./FormFields";
import { FormFoot } from "./FormFoot";
import { sent, type Values, valuesOf } from "./form";
import { Modal } from "./Modal";
import { Trouble, Waiting } from "./Trouble";
import { useAsTyped } from "./useAsTyped";
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
  const [typed, setTyped] = useState<Values>({});
  const values = valuesOf(form.fields, typed);
  const { asTyped, confirm } = useAsTyped(values);
  const save = useWrite((meant: string[]) => {
    const body = { values: sent(form.fields, values), parent_id: parent, as_typed: meant };
    return answer<Schemas["FormOut"]>(
      form.id === null
        ? api.POST("/api/v1/records/{kind}", {
            params: { path: { kind: form.kind }, header: writeHeaders() },
            body,
          })
        : api.PUT("/api/v1/records/{kind}/{record_id}", {
            params: { path: { kind: form.kind, record_id: form.id }, header: editHeaders(form.version) },
            body,
          }),
    );
  }, onClose);
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
    save.mutate(asTyped);
  };
  return (
    <form ref={ref} onSubmit={submit}>
      <div className="grid gap-x-6 gap-y-3 desk:grid-cols-2">
        <FormFields
          fields={form.fields}
          typed={typed}
          onTyped={setTyped}
          problemOf={(field) => problemAt(problem, field)}
          onConfirm={(field) => save.mutate(confirm(field))}
          autoFocus
        />
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
