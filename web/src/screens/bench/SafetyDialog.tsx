import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useRefused } from "../../shell/Field";
import { FormFields } from "../../shell/FormFields";
import { FormFoot } from "../../shell/FormFoot";
import { type Values, valuesOf } from "../../shell/form";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = { bench: Schemas["BenchOut"]; onClose: () => void };

/** The card that comes before everything that heats. */
export function SafetyDialog({ bench, onClose }: Props) {
  const { safety, setup } = bench;
  const [fields] = useState(safety.fields);
  const [typed, setTyped] = useState<Values>({});
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/safety-checks", {
          params: { path: { setup_id: setup.id }, header: writeHeaders() },
          // The choices are the workshop's own: what is not one of them it refuses.
          body: valuesOf(fields, typed) as Schemas["SafetyIn"],
        }),
      ),
    ({ holds }) => holds.length === 0 && onClose(),
  );
  const form = useRefused(save.error);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  return (
    <Modal title={`Safe to tune: ${setup.machine}`} onClose={onClose} wide>
      <form ref={form} onSubmit={submit} className="space-y-3">
        <ul className="space-y-1 text-care leading-snug">
          <li>
            <strong>Look.</strong> Wiring sound, screws of the heater tight, the heat-sink fan blowing,
            nothing that burns near, a smoke alarm overhead.
          </li>
          <li>
            <strong>Never</strong> test the protection by pulling a sensor from a hot block. The maker's
            papers come first; mains wiring belongs to somebody licensed where local codes say so.
          </li>
          <li>
            <strong>Stay</strong> for the first print after work on heater, sensor or firmware.
          </li>
        </ul>
        <FormFields
          fields={fields}
          typed={typed}
          onTyped={setTyped}
          problemOf={(field) => problemAt(save.error, field)}
          autoFocus
        />
        {save.data && save.data.holds.length > 0 && (
          <div role="alert" className="border-l-6 border-stale bg-well px-3 py-2 text-care">
            <strong>Kept, and the hold stays.</strong> {save.data.holds.join(" ")}
          </div>
        )}
        <FormFoot label="I went through it" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
