import { type FormEvent, useState } from "react";
import { answer, api, editHeaders, problemAt, type Schemas } from "../../api/client";
import { Field } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

type Props = {
  run: Schemas["RunOut"];
  places: readonly Schemas["SoftPlaceOut"][];
  onClose: () => void;
};

/** Walls read once more with the jaws only just touching: whether the hand presses them in. Enter goes from wall to wall. */
export function SoftDialog({ run, places, onClose }: Props) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const full = places.every(({ place, soft }) => soft || typed[place]?.trim());
  const save = useWrite(
    () =>
      answer(
        api.PATCH("/api/v1/runs/{run_id}", {
          params: { path: { run_id: run.id }, header: editHeaders(run.version) },
          body: { soft: Object.fromEntries(places.map(({ place }) => [place, typed[place] ?? ""])) },
        }),
      ),
    onClose,
  );
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const fields = [...event.currentTarget.querySelectorAll("input")];
    const at = fields.indexOf(document.activeElement as HTMLInputElement);
    const next = at < 0 ? undefined : fields.slice(at + 1).find((field) => !field.value.trim());
    if (next) next.focus();
    else save.mutate(undefined);
  };
  return (
    <Modal title="Read softly" onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <p className="text-reason">
          The same places once more, the jaws only just touching. It shows whether your hand presses walls in,
          which a zero check cannot. Four places tell; those left empty can be read later.
        </p>
        {places.map(({ place, label, text, soft }, index) => (
          <Field
            key={place}
            label={label.charAt(0).toUpperCase() + label.slice(1)}
            explain={
              <span className="text-ink-2">
                , {text} as usual{soft && `, ${soft} softly`}
              </span>
            }
            unit="mm"
            decimal
            autoFocus={index === 0}
            value={typed[place] ?? ""}
            onChange={(value) => setTyped({ ...typed, [place]: value })}
            problem={problemAt(save.error, place)?.message}
          />
        ))}
        <FormFoot
          label="Note them"
          keyText={full ? "Enter" : ""}
          pending={save.isPending}
          error={save.error}
          onClose={onClose}
        />
      </form>
    </Modal>
  );
}
