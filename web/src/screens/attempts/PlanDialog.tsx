import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { Choice, Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Design = Schemas["PlanIn"]["design"];

const DESIGNS: readonly { value: Design; text: string }[] = [
  { value: "one", text: "One setting, several numbers" },
  { value: "3in4", text: "Three settings in four prints" },
  { value: "3in8", text: "Three settings in eight prints" },
];

type Props = { part: Schemas["AttemptsOut"]; printId: number; onClose: () => void };

/** Plan a series: what is varied, and between which numbers; the order is drawn. */
export function PlanDialog({ part, printId, onClose }: Props) {
  const [design, setDesign] = useState<Design>("one");
  const tried = part.settings.filter((row) => row.text);
  const all = tried.length >= 3 ? tried : part.settings;
  const [kinds, setKinds] = useState<string[]>(() => {
    const first = all.find((row) => row.kind === "nozzle") ?? all[0];
    const rest = all.filter((row) => row !== first).slice(0, 2);
    return [first, ...rest].map((row) => row?.kind ?? "");
  });
  const [typed, setTyped] = useState(["", "", ""]);
  const many = design === "one" ? 1 : 3;
  const save = useWrite(
    () =>
      answer(
        api.POST("/api/v1/prints/{print_id}/plans", {
          params: { path: { print_id: printId }, header: writeHeaders() },
          body: { design, kinds: kinds.slice(0, many) as Schemas["Kind"][], typed: typed.slice(0, many) },
        }),
      ),
    onClose,
  );
  const ref = useRefused(save.error);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  const put = <T,>(list: T[], place: number, value: T) => list.map((one, at) => (at === place ? value : one));
  return (
    <Modal title="Plan a series" onClose={onClose} wide>
      <form ref={ref} onSubmit={submit} className="space-y-3">
        <p className="text-reason">
          Prints come in an order that is drawn: spool, weather and hand must not grow with the setting. Keep
          all else as it is, and print the smallest piece that shows the fault.
        </p>
        <Choice label="What" value={design} onChange={setDesign} options={DESIGNS} />
        {Array.from({ length: many }, (_, place) => {
          const setting = part.settings.find((row) => row.kind === kinds[place]);
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: the places stay where they are.
            <div key={place} className="grid grid-cols-2 gap-4">
              <Choice
                label="Setting"
                value={kinds[place] ?? ""}
                onChange={(kind) => setKinds(put(kinds, place, kind))}
                options={part.settings.map((row) => ({ value: row.kind as string, text: row.name }))}
                problem={problemAt(save.error, "kinds")?.message}
              />
              <Field
                label="Numbers"
                unit={setting?.unit_text ?? ""}
                value={typed[place] ?? ""}
                onChange={(value) => setTyped(put(typed, place, value))}
                hint={many === 1 ? "Three to six: 195 205 215" : "The lower and the higher: 195 215"}
                problem={problemAt(save.error, `typed.${place}`)?.message}
              />
            </div>
          );
        })}
        {design === "3in4" && (
          <p className="text-body text-ink-2">
            Four prints cannot tell a setting from the other two working together; eight can.
          </p>
        )}
        <FormFoot label="Plan it" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
