import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { Choice, Field } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = { sheet: Schemas["FaultSheetOut"]; onClose: () => void };

/** Close a case with what it was: the next time it counts a little more on this machine. */
export function CloseCase({ sheet, onClose }: Props) {
  const [cause, setCause] = useState(sheet.causes[0]?.key ?? "");
  const [note, setNote] = useState("");
  const close = useWrite(
    () =>
      answer(
        api.POST("/api/v1/faults/{fault_id}/end", {
          params: { path: { fault_id: sheet.id }, header: writeHeaders() },
          body: { cause, note },
        }),
      ),
    onClose,
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    close.mutate(undefined);
  };
  return (
    <Modal title="Close the case" onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <Choice
          label="What was it?"
          value={cause}
          onChange={setCause}
          options={sheet.causes.map((row) => ({ value: row.key, text: row.name }))}
          {...(problemAt(close.error, "cause")
            ? { problem: problemAt(close.error, "cause")?.message ?? "" }
            : {})}
        />
        <Field label="Note" value={note} onChange={setNote} />
        <FormFoot label="Close the case" pending={close.isPending} error={close.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
