import { type FormEvent, useState } from "react";
import { answer, api, editHeaders, type Schemas } from "../../api/client";
import { Choice } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";

const WALLS = ["A", "B", "C", "D"] as const;
type Wall = (typeof WALLS)[number];
type Way = "on" | "back";

/** Walls that were measured from another one on, or the other way round: what was read goes to where it was read. */
export function WalkedDialog({ run, onClose }: { run: Schemas["RunOut"]; onClose: () => void }) {
  const [first, setFirst] = useState<Wall>("A");
  const [way, setWay] = useState<Way>("back");
  const walked = order(first, way);
  const save = useWrite(
    () =>
      answer(
        api.PATCH("/api/v1/runs/{run_id}", {
          params: { path: { run_id: run.id }, header: editHeaders(run.version) },
          body: { walked: walked.join("") },
        }),
      ),
    onClose,
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  return (
    <Modal title="The walls were measured in another order" onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <p className="text-reason">
          What was read so far moves to the walls it was read at: {walked.join(", ")}. Nothing is read again.
        </p>
        <Choice
          label="The first was wall"
          autoFocus
          value={first}
          onChange={setFirst}
          options={WALLS.map((wall) => ({ value: wall, text: wall }))}
        />
        <Choice
          label="and from there"
          value={way}
          onChange={setWay}
          options={[
            { value: "on", text: "on as the letters go" },
            { value: "back", text: "round the other way" },
          ]}
        />
        <FormFoot label="Move them" pending={save.isPending} error={save.error} onClose={onClose} />
      </form>
    </Modal>
  );
}

function order(first: Wall, way: Way): Wall[] {
  const round = way === "on" ? WALLS : WALLS.toReversed();
  const from = round.indexOf(first);
  return [...round.slice(from), ...round.slice(0, from)];
}
