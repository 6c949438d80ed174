import { type FormEvent, useState } from "react";
import { answer, api, editHeaders, problemAt, type Schemas } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { Choice } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";
import type { TowerHand } from "./useTower";

type Tower = Schemas["TowerOut"];
type Props = { tower: Tower; band: number; hand: TowerHand; onClose: () => void };

/** What takes a band out of the choice, or back in; a tower that ended early is marked from here to its top. */
export function VetoDialog({ tower, band, hand, onClose }: Props) {
  const here = tower.bands.find((row) => row.index === band);
  const above = tower.bands.filter((row) => row.index >= band);
  if (!here) return null;
  const toggle = (key: string) => {
    const on = !here.vetoes.includes(key);
    const rows = key === "missing" && on ? above : [here];
    for (const row of rows) if (row.vetoes.includes(key) !== on) void hand.mark(row.index, key, on);
    onClose();
  };
  return (
    <Modal title={`${here.text} ${tower.unit}: out of the choice?`} onClose={onClose}>
      <ul className="space-y-2">
        {tower.vetoes.map((veto, index) => {
          const on = here.vetoes.includes(veto.key);
          return (
            <li key={veto.key}>
              <button
                type="button"
                autoFocus={index === 0}
                className={`button w-full justify-start text-left ${index === 0 ? "button-main" : ""}`}
                onClick={() => toggle(veto.key)}
              >
                {on ? `Take back: ${veto.word}` : veto.key === "missing" ? "The tower ended here" : veto.word}
              </button>
              <p className="text-small text-ink-2">{veto.sentence}</p>
            </li>
          );
        })}
      </ul>
      <button type="button" className="button mt-3" onClick={onClose}>
        Leave it in <KeyHint>Esc</KeyHint>
      </button>
    </Modal>
  );
}

/** Two bands whose values were printed the other way round: the ratings stay with the plastic. */
export function SwapDialog({
  run,
  tower,
  onClose,
}: {
  run: Schemas["RunOut"];
  tower: Tower;
  onClose: () => void;
}) {
  const options = tower.bands.map((band) => ({
    value: String(band.index),
    text: `${band.text} ${tower.unit}`,
  }));
  const [first, setFirst] = useState(options[0]?.value ?? "");
  const [second, setSecond] = useState(options.at(-1)?.value ?? "");
  const swap = useWrite(
    () =>
      answer(
        api.PATCH("/api/v1/runs/{run_id}", {
          params: { path: { run_id: run.id }, header: editHeaders(run.version) },
          body: { swap: [Number(first), Number(second)] },
        }),
      ),
    onClose,
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    swap.mutate(undefined);
  };
  return (
    <Modal title="Two bands were printed the other way round" onClose={onClose}>
      <form onSubmit={submit} className="space-y-3">
        <p className="text-reason">Their values change places. What was rated stays where it was seen.</p>
        <Choice label="This band" autoFocus value={first} onChange={setFirst} options={options} />
        <Choice
          label="and this one"
          value={second}
          onChange={setSecond}
          options={options}
          problem={problemAt(swap.error, "swap")?.message}
        />
        <FormFoot label="Swap them" pending={swap.isPending} error={swap.error} onClose={onClose} />
      </form>
    </Modal>
  );
}
