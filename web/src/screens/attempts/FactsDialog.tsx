import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = { facts: Schemas["PartFactsOut"]; printId: number; onClose: () => void };

/** What is known of a part: what for, its file, its mass and height. */
export function FactsDialog({ facts, printId, onClose }: Props) {
  const [typed, setTyped] = useState(facts);
  const save = useWrite(
    () =>
      answer(
        api.PUT("/api/v1/prints/{print_id}/part", {
          params: { path: { print_id: printId }, header: writeHeaders() },
          body: typed,
        }),
      ),
    onClose,
  );
  const ref = useRefused(save.error);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  const field = (name: keyof typeof typed, label: string, unit = "") => (
    <Field
      label={label}
      unit={unit}
      decimal={unit !== ""}
      value={typed[name]}
      onChange={(value) => setTyped({ ...typed, [name]: value })}
      problem={problemAt(save.error, name)?.message}
    />
  );
  return (
    <Modal title="What is known of this part" onClose={onClose}>
      <form ref={ref} onSubmit={submit} className="space-y-3">
        {field("purpose", "What for")}
        {field("file", "Its file")}
        <div className="grid grid-cols-2 gap-4">
          {field("grams", "Mass", "g")}
          {field("height_mm", "Height", "mm")}
        </div>
        <FormFoot label="Keep" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
