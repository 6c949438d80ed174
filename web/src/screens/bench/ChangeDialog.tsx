import { type FormEvent, useState } from "react";
import { problemAt, type Schemas } from "../../api/client";
import { useChangeKinds, useChangePreview } from "../../api/queries";
import { Field, useRefused } from "../../shell/Field";
import { FormFoot } from "../../shell/FormFoot";
import { Lookup } from "../../shell/Lookup";
import { Modal } from "../../shell/Modal";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useChanges } from "./useChanges";

type Kind = Schemas["Change"];
type Another = Schemas["PreviewOut"]["another"];

/** `onLogged`: with the part that is another one since, if one is. */
type DialogProps = { setupId: number; onLogged: (another: Another) => void; onClose: () => void };

/** Log what was done: first find it, then see what it will make of which setups, then save. */
export function ChangeDialog({ setupId, onLogged, onClose }: DialogProps) {
  const kinds = useChangeKinds(setupId);
  const [kind, setKind] = useState<Kind | null>(null);
  const chosen = kinds.data?.find((row) => row.kind === kind);
  return (
    <Modal title={chosen ? `${chosen.name}: ${chosen.part_name}` : "What was done?"} onClose={onClose} wide>
      {kinds.isError && <Trouble error={kinds.error} onAgain={() => kinds.refetch()} />}
      {kinds.isPending && <Waiting />}
      {kinds.data && !chosen && (
        <Lookup<Kind>
          label="Find what was done"
          hint="nozzle, belts, dried, firmware …"
          none="Nothing is called that. Try the part: nozzle, tube, plate, spool."
          value={kind}
          options={kinds.data.map((row) => ({ value: row.kind, text: row.name, beside: row.part_name }))}
          onChosen={setKind}
        />
      )}
      {chosen && (
        <Consequences
          setupId={setupId}
          kind={chosen.kind}
          onBack={() => setKind(null)}
          onLogged={onLogged}
          onClose={onClose}
        />
      )}
    </Modal>
  );
}

type Props = DialogProps & { kind: Kind; onBack: () => void };

function Consequences({ setupId, kind, onBack, onLogged, onClose }: Props) {
  const [note, setNote] = useState("");
  const [when, setWhen] = useState("");
  const preview = useChangePreview(setupId, kind, when);
  const { log: save } = useChanges(setupId, () => onLogged(preview.data?.another ?? null));
  const form = useRefused(save.error);
  const said = problemAt(save.error, "kind")?.message;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate({ kind, note, happened_at: when ? new Date(when).toISOString() : null });
  };
  return (
    <form ref={form} onSubmit={submit} className="space-y-3">
      <div role="status" className="border-l-6 border-stale bg-well px-3 py-2">
        <p className="text-care font-semibold">{preview.data?.consequence ?? "Reading …"}</p>
        {preview.data?.care && <p className="text-body text-stale">{preview.data.care}</p>}
        {alike(preview.data?.setups ?? []).map((rows) => (
          <Consequence key={rows[0]?.setup_id} rows={rows} />
        ))}
      </div>
      {said && <p className="text-care font-semibold text-out">{said}</p>}
      <Field
        label="Note, if you like"
        value={note}
        onChange={setNote}
        autoFocus
        problem={problemAt(save.error, "note")?.message}
      />
      <Field
        label="Done earlier? When (leave empty for now)"
        type="datetime-local"
        value={when}
        onChange={setWhen}
        problem={problemAt(save.error, "happened_at")?.message}
      />
      <FormFoot label="Log it" pending={save.isPending} error={save.error} onClose={onClose}>
        <button type="button" className="button" onClick={onBack}>
          Something else
        </button>
      </FormFoot>
    </form>
  );
}

type Rows = readonly Schemas["ConsequenceOut"][];

/** Setups that the change does the same to stand together; those it leaves alone come last. */
function alike(rows: Rows): Rows[] {
  const groups = new Map<string, Schemas["ConsequenceOut"][]>();
  for (const row of rows) {
    const moves = row.moves.map((move) => `${move.step} ${move.was} ${move.becomes}`).join();
    groups.set(moves, [...(groups.get(moves) ?? []), row]);
  }
  return [...groups.entries()]
    .sort(([left], [right]) => Number(left === "") - Number(right === ""))
    .map(([, group]) => group);
}

function Consequence({ rows }: { rows: Rows }) {
  const moves = rows[0]?.moves ?? [];
  return (
    <div className="mt-2 border-t border-rule pt-2">
      <p className="text-body font-semibold">{rows.map((row) => row.setup).join("; ")}</p>
      {moves.length === 0 && <p className="text-body text-ink-2">Stays as it is.</p>}
      <ul>
        {moves.map((move) => (
          <li key={move.step} className="text-body">
            {move.name}: <s className="text-ink-2">{move.was}</s>{" "}
            <strong className="text-stale">{move.becomes}</strong>
          </li>
        ))}
      </ul>
    </div>
  );
}
