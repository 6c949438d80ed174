import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { Field } from "../../shell/Field";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";
import { InstrumentFields, type InstrumentTyped } from "../setup/InstrumentFields";

type Props = {
  kind: InstrumentTyped["kind"];
  onAdded: (tool: Schemas["InstrumentOut"]) => void;
  onClose: () => void;
};

/** Add a measuring tool without leaving the run. */
export function AddInstrument({ kind, onAdded, onClose }: Props) {
  const [tool, setTool] = useState<InstrumentTyped>({ name: "", kind, step: "0.01", permissible_error: "" });
  const write = useWrite(
    () => answer(api.POST("/api/v1/instruments", { params: { header: writeHeaders() }, body: tool })),
    onAdded,
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    event.stopPropagation();
    write.mutate(undefined);
  };
  return (
    <Modal title="Add a measuring tool" onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <Field
          label="Name"
          value={tool.name}
          autoFocus
          onChange={(name) => setTool({ ...tool, name })}
          problem={problemAt(write.error, "name")?.message}
        />
        <InstrumentFields
          value={tool}
          onChange={setTool}
          said={(field) => problemAt(write.error, field)?.message}
        />
        <div className="flex gap-3">
          <button type="submit" className="button button-main">
            Add
          </button>
          <button type="button" className="button" onClick={onClose}>
            Cancel
          </button>
        </div>
      </form>
    </Modal>
  );
}
