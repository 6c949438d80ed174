import { type FormEvent, useState } from "react";
import { answer, api, problemAt, writeHeaders } from "../../api/client";
import { useRoom } from "../../api/queries";
import { Field, useRefused } from "../../shell/Field";
import { useWrite } from "../../shell/useWrite";

/** The air the machines stand in; °F may be typed. */
export function Room({ autoFocus = false }: { autoFocus?: boolean }) {
  const room = useRoom();
  const [temperature, setTemperature] = useState("");
  const [humidity, setHumidity] = useState("");
  const [draught, setDraught] = useState(false);
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/room", {
          params: { header: writeHeaders() },
          body: { temperature, humidity, draught },
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
    save.mutate(undefined);
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
          problem={problemAt(save.error, "temperature")?.message}
        />
        <Field
          label="Humidity, if you know it"
          unit="%"
          decimal
          value={humidity}
          onChange={setHumidity}
          problem={problemAt(save.error, "humidity")?.message}
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
