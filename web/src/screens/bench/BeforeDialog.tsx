import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { Field } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = { bench: Schemas["BenchOut"]; card: Schemas["BeforeOut"]; onClose: () => void };

/** A card that comes before the numbers: what to look at or listen for, and what was found. */
export function BeforeDialog({ bench, card, onClose }: Props) {
  const [note, setNote] = useState("");
  const path = { setup_id: bench.setup.id };
  const sound = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/changes", {
          params: { path, header: writeHeaders() },
          body: { kind: "mechanics", note },
        }),
      ),
    onClose,
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    sound.mutate(undefined);
  };
  return (
    <Modal title={card.said} onClose={onClose}>
      <p className="mb-3 text-reason">{card.why}</p>
      {card.key === "mechanics" ? (
        <form onSubmit={submit} className="space-y-3">
          <p className="text-care font-semibold text-stale">
            Unplug before anything is unscrewed. A loose machine: tune nothing yet.
          </p>
          <Field label="What was found, if anything" value={note} onChange={setNote} autoFocus />
          <FormFoot label="All sound" pending={sound.isPending} error={sound.error} onClose={onClose} />
        </form>
      ) : (
        <Link className="button button-main" to="/filaments">
          Write it on the spool’s log
        </Link>
      )}
    </Modal>
  );
}
