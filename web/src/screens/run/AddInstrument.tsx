import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useRecordForm } from "../../api/queries";
import { useRefused } from "../../shell/Field";
import { FormFields } from "../../shell/FormFields";
import { FormFoot } from "../../shell/FormFoot";
import { answered, type FormField, type Values, valuesOf } from "../../shell/form";
import { Modal } from "../../shell/Modal";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useAsTyped } from "../../shell/useAsTyped";
import { useWrite } from "../../shell/useWrite";

type Props = {
  /** What kind of tool is wanted, if one is more likely than another. */
  kind: Schemas["ToolKind"] | null;
  onAdded: (tool: Schemas["InstrumentOut"]) => void;
  onClose: () => void;
};

/** Add a measuring tool without leaving the run. */
export function AddInstrument({ kind, onAdded, onClose }: Props) {
  const form = useRecordForm("instrument", null);
  return (
    <Modal title="Add a measuring tool" onClose={onClose}>
      {form.isError && <Trouble error={form.error} onAgain={() => form.refetch()} />}
      {form.isPending && <Waiting />}
      {form.data && <Filling fields={form.data.fields} kind={kind} onAdded={onAdded} onClose={onClose} />}
    </Modal>
  );
}

function Filling({ fields, kind, onAdded, onClose }: Props & { fields: readonly FormField[] }) {
  const [typed, setTyped] = useState<Values>(() => {
    const which = fields.find((field) => field.name === "kind");
    return which && kind ? answered({}, which, kind) : {};
  });
  const values = valuesOf(fields, typed);
  const { asTyped, confirm } = useAsTyped(values);
  const write = useWrite(
    (meant: string[]) =>
      answer(
        api.POST("/api/v1/instruments", {
          params: { header: writeHeaders() },
          body: { values, as_typed: meant },
        }),
      ),
    onAdded,
  );
  const form = useRefused(write.error);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    event.stopPropagation();
    write.mutate(asTyped);
  };
  return (
    <form ref={form} onSubmit={submit} className="space-y-3">
      <FormFields
        fields={fields}
        typed={typed}
        onTyped={setTyped}
        problemOf={(field) => problemAt(write.error, field)}
        onConfirm={(field) => write.mutate(confirm(field))}
        autoFocus
      />
      <FormFoot label="Add" pending={write.isPending} error={write.error} onClose={onClose} />
    </form>
  );
}
