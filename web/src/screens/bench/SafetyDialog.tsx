import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { Choice, Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";
import { LINERS, RUNAWAY } from "../setup/choices";

type Props = { bench: Schemas["BenchOut"]; onClose: () => void };

/** The card that comes before everything that heats. */
export function SafetyDialog({ bench, onClose }: Props) {
  const { safety, setup } = bench;
  const [runaway, setRunaway] = useState(safety.runaway);
  const [liner, setLiner] = useState(safety.liner);
  const [note, setNote] = useState(safety.note);
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/safety-checks", {
          params: { path: { setup_id: setup.id }, header: writeHeaders() },
          body: { runaway, liner, note },
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
        <Choice
          label="If its temperature sensor fails, does it stop heating?"
          value={runaway}
          onChange={setRunaway}
          options={RUNAWAY}
        />
        <Choice label="Where does the liner end?" value={liner} onChange={setLiner} options={LINERS} />
        <Field
          label="Where that is written, or how it was tested"
          value={note}
          onChange={setNote}
          problem={problemAt(save.error, "note")?.message}
        />
        <FormFoot label="I went through it" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
