import { type FormEvent, useState } from "react";
import { answer, api, problemAt, writeHeaders } from "../../api/client";
import { Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

/** Something to remember of this setup. */
export function NoteDialog({ setupId, onClose }: { setupId: number; onClose: () => void }) {
  const [text, setText] = useState("");
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/notes", {
          params: { path: { setup_id: setupId }, header: writeHeaders() },
          body: { text },
        }),
      ),
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
