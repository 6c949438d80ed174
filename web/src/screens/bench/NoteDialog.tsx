import { type FormEvent, useState } from "react";
import { problemAt } from "../../api/client";
import { Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useKeptWrite } from "../../shell/useKeptWrite";

/** Something to remember of this setup. */
export function NoteDialog({ setupId, onClose }: { setupId: number; onClose: () => void }) {
  const [text, setText] = useState("");
  const save = useKeptWrite(
    () => ({ path: `/api/v1/setups/${setupId}/notes`, body: { text }, what: "A note", to: "/" }),
    onClose,
  );
  const form = useRefused(save.error);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  return (
    <Modal title="A note on this setup" onClose={onClose}>
      <form ref={form} onSubmit={submit} className="space-y-3">
        <Field
          label="What is to be remembered"
          value={text}
          onChange={setText}
          autoFocus
          problem={problemAt(save.error, "text")?.message}
        />
        <FormFoot label="Keep it" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
