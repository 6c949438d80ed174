import { type FormEvent, useState } from "react";
import { answer, api, problemAt, writeHeaders } from "../../api/client";
import { useRoom } from "../../api/queries";
import { Field, useRefused } from "../../shell/Field";
import { Doubted } from "../../shell/FormFields";
import { useAsTyped } from "../../shell/useAsTyped";
import { useWrite } from "../../shell/useWrite";

/** The air the machines stand in; °F may be typed. */
export function Room({ autoFocus = false }: { autoFocus?: boolean }) {
  const room = useRoom();
  const [temperature, setTemperature] = useState("");
  const [humidity, setHumidity] = useState("");
  const [draught, setDraught] = useState(false);
  const { asTyped, confirm } = useAsTyped({ temperature, humidity });
  const save = useWrite(
    (meant: string[]) =>
      answer(
        api.POST("/api/v1/room", {
          params: { header: writeHeaders() },
          body: { temperature, humidity, draught, as_typed: meant },
        }),
      ),
    () => {
      setTemperature("");
      setHumidity("");
    },
  );
  const form = useRefused(save.error);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(asTyped);
  };
  /** What is wrong with a field, and the ways on from it. */
  const doubtAt = (field: string, onUse: (text: string) => void) => {
    const problem = problemAt(save.error, field);
    if (!problem) return {};
    const extra = <Doubted problem={problem} onUse={onUse} onConfirm={() => save.mutate(confirm(field))} />;
    return { problem: problem.message, extra };
  };
  return (
    <section aria-label="Room">
      <h2 className="border-b-2 border-ink pb-1 text-cell">Room</h2>
      <p role="status" className="py-2 text-reason">
        {room.data?.sentence}
      </p>
      <form ref={form} onSubmit={submit} className="grid items-start gap-3 desk:grid-cols-2">
        <Field
          label="Temperature"
          unit="°C"
          decimal
          autoFocus={autoFocus}
          value={temperature}
          onChange={setTemperature}
          hint="72 F is understood too."
          {...doubtAt("temperature", setTemperature)}
        />
        <Field
          label="Humidity, if you know it"
          unit="%"
          decimal
          value={humidity}
          onChange={setHumidity}
          {...doubtAt("humidity", setHumidity)}
        />
        <label className="flex min-h-12 items-center gap-3 text-body font-semibold">
          <input
            type="checkbox"
            className="size-5"
            checked={draught}
            onChange={(event) => setDraught(event.target.checked)}
          />
          There is a draught
        </label>
        <button type="submit" className="button">
          Write it down
        </button>
      </form>
    </section>
  );
}
