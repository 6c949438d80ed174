import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";
import { Instructions } from "../run/Instructions";

type Props = { setupId: number; row: Schemas["BenchReadBackOut"]; onClose: () => void };

/** What is on record beside what the machine says; where they differ, one key shows how the recorded one is written back. */
export function ReadBackDialog({ setupId, row, onClose }: Props) {
  const [typed, setTyped] = useState("");
  const [back, setBack] = useState(false);
  const [says, setSays] = useState(row.machine_says);
  const { value } = row;
  const check = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/values/{value_id}/read-backs", {
          params: { path: { setup_id: setupId, value_id: value.id }, header: writeHeaders() },
          body: { typed },
        }),
      ),
    (found) => {
      if (found.read_back.state === "verified") return onClose();
      setSays(typed);
      setTyped("");
    },
  );
  const differs = says !== "";
  const form = useRefused(check.error);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    check.mutate(undefined);
  };
  return (
    <Modal title={`Read back: ${value.name}`} onClose={onClose} wide>
      <dl className="mb-3 grid grid-cols-2 gap-x-6 border-y border-rule py-2">
        <dt className="text-body text-ink-2">On record</dt>
        <dt className="text-body text-ink-2">The machine says</dt>
        <dd className="text-cell font-bold">
          {value.setting} <span className="text-body text-ink-2">{value.unit_text}</span>
        </dd>
        <dd className={`text-cell font-bold ${differs ? "text-out" : "text-ink-2"}`}>
          {says || "not read yet"}
        </dd>
      </dl>
      {!differs && <p className="mb-3 text-reason">{row.how}</p>}
      {differs && !back && (
        <p className="mb-3 text-reason">
          They differ.{" "}
          <button type="button" autoFocus className="button button-main" onClick={() => setBack(true)}>
            Write the recorded one back <KeyHint onBlue>Enter</KeyHint>
          </button>
        </p>
      )}
      {back && (
        <div className="mb-3">
          <Instructions rows={row.instructions} name={`value.${value.id}`} />
        </div>
      )}
      {(!differs || back) && (
        <form ref={form} onSubmit={submit} className="space-y-3">
          <Field
            label="The machine says"
            value={typed}
            onChange={setTyped}
            decimal
            autoFocus
            unit={value.unit_text}
            hint="= where it says the same"
            problem={problemAt(check.error, "typed")?.message ?? check.error?.detail}
          />
          <FormFoot label="Check" pending={check.isPending} error={check.error} onClose={onClose} />
        </form>
      )}
    </Modal>
  );
}
