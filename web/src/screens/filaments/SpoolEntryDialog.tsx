import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { Choice, Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Kind = Schemas["SpoolEntryIn"]["kind"];

const KINDS = [
  { value: "weighed", text: "Weighed" },
  { value: "drying", text: "Put into the dryer" },
  { value: "dried", text: "Dried" },
  { value: "diameter", text: "Diameter measured" },
  { value: "wet_test", text: "Wet test" },
] as const;

const ASKED: Record<Kind, { number: string; unit: string; second?: string; secondUnit?: string }> = {
  weighed: { number: "Filament left, without the empty spool", unit: "g" },
  drying: { number: "For how long", unit: "h", second: "How hot", secondUnit: "°C" },
  dried: { number: "For how long", unit: "h", second: "How hot", secondUnit: "°C" },
  diameter: { number: "One way", unit: "mm", second: "Across it", secondUnit: "mm" },
  wet_test: { number: "Pops while 50 mm are fed in air", unit: "" },
};

/** Write down what was found on a spool. */
export function SpoolEntryDialog({ spool, onClose }: { spool: Schemas["SpoolOut"]; onClose: () => void }) {
  const [kind, setKind] = useState<Kind>("weighed");
  const [number, setNumber] = useState("");
  const [second, setSecond] = useState("");
  const [note, setNote] = useState("");
  const [when, setWhen] = useState("");
  const asked = ASKED[kind];
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/spools/{spool_id}/entries", {
          params: { path: { spool_id: spool.id }, header: writeHeaders() },
          body: { kind, number, second, note, at: when ? new Date(when).toISOString() : null },
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
    <Modal title={`Spool ${spool.name}`} onClose={onClose}>
      <form ref={form} onSubmit={submit} className="space-y-3">
        <Choice label="What was done" value={kind} onChange={setKind} options={KINDS} />
        <Field
          label={asked.number}
          unit={asked.unit}
          decimal
          autoFocus
          value={number}
          onChange={setNumber}
          problem={problemAt(save.error, "number")?.message}
        />
        {asked.second && (
          <Field
            label={asked.second}
            unit={asked.secondUnit}
            decimal
            value={second}
            onChange={setSecond}
            problem={problemAt(save.error, "second")?.message}
          />
        )}
        {kind === "dried" && (
          <p className="text-care">
            <strong>Heat.</strong> Dry at the spool maker's temperature, in a dryer made for it; a kitchen
            oven overshoots.
          </p>
        )}
        <Field label="Note" value={note} onChange={setNote} />
        <Field
          label="Earlier? When (leave empty for now)"
          type="datetime-local"
          value={when}
          onChange={setWhen}
          problem={problemAt(save.error, "at")?.message}
        />
        <FormFoot label="Write it down" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
