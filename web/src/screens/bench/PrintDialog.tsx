import { type FormEvent, useEffect, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { usePrintForm } from "../../api/queries";
import { Choice, Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

const OUTCOMES = [
  { value: "good", text: "It works" },
  { value: "bad", text: "It does not work" },
  { value: "stopped", text: "Stopped early" },
] as const;

const LOOKS = [
  { value: "", text: "Not said" },
  { value: "good", text: "It looks good" },
  { value: "bad", text: "It looks bad" },
] as const;

/** Write a real print down: counters and ageing follow, and the revision gets its mark. */
export function PrintDialog({ setupId, onClose }: { setupId: number; onClose: () => void }) {
  const [what, setWhat] = useState("");
  const [hours, setHours] = useState("");
  const [grams, setGrams] = useState("");
  const [outcome, setOutcome] = useState<Schemas["PrintIn"]["outcome"]>("good");
  const [looks, setLooks] = useState<(typeof LOOKS)[number]["value"]>("");
  const [note, setNote] = useState("");
  const [signs, setSigns] = useState<Record<string, string>>({});
  const printed = usePrintForm().data;
  const [asked, setAsked] = useState("");
  const save = useWrite(
    (_given: { grams: string }) =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/prints", {
          params: { path: { setup_id: setupId }, header: writeHeaders() },
          // What was asked about and is sent again as it was is meant so.
          body: {
            what,
            hours,
            grams,
            outcome,
            looks: looks || null,
            note,
            signs: Object.fromEntries(
              Object.entries(signs)
                .filter(([, rating]) => rating !== "")
                .map(([key, rating]) => [key, Number(rating)]),
            ),
            as_typed: asked === grams ? ["grams"] : [],
          },
        }),
      ),
    onClose,
  );
  const form = useRefused(save.error);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate({ grams });
  };
  const said = (field: string) => problemAt(save.error, field)?.message;
  useEffect(() => {
    if (problemAt(save.error, "grams")?.confirmable) setAsked(save.variables?.grams ?? "");
  }, [save.error, save.variables]);
  return (
    <Modal title="Log a print" onClose={onClose}>
      <form ref={form} onSubmit={submit} className="space-y-3">
        <Field
          label="What"
          value={what}
          onChange={setWhat}
          autoFocus
          problem={said("what")}
          known={printed?.parts}
        />
        <div className="grid grid-cols-2 gap-4">
          <Choice label="Does it work?" value={outcome} onChange={setOutcome} options={OUTCOMES} />
          <Choice label="How does it look?" value={looks} onChange={setLooks} options={LOOKS} />
          <Field
            label="Took, if you like"
            unit="h"
            hint="3.2, 3:12 or 3h12"
            value={hours}
            onChange={setHours}
            problem={said("hours")}
          />
          <Field
            label="Used, if you like"
            unit="g"
            decimal
            value={grams}
            onChange={setGrams}
            problem={said("grams")}
          />
        </div>
        <details>
          <summary className="min-h-11 cursor-pointer py-2 text-body font-semibold">
            What it shows, if you like
          </summary>
          <div className="grid grid-cols-2 gap-4">
            {(printed?.signs ?? []).map((sign) => (
              <Choice
                key={sign.key}
                label={sign.name}
                hint={sign.look}
                value={signs[sign.key] ?? ""}
                onChange={(rating) => setSigns({ ...signs, [sign.key]: rating })}
                options={[
                  { value: "", text: "Not looked at" },
                  ...sign.words
                    .map((word, rating) => ({ value: String(rating), text: `${rating} ${word}` }))
                    .reverse(),
                ]}
              />
            ))}
          </div>
        </details>
        <Field label="Note" value={note} onChange={setNote} />
        <FormFoot label="Log it" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
