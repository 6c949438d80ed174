import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { type Pickable, usePicks } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { Lookup } from "../../shell/Lookup";
import { Modal } from "../../shell/Modal";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";

const TITLES: Record<Pickable, string> = {
  machine: "Another machine",
  nozzle: "Another nozzle",
  surface: "Another build surface",
  filament: "Another filament",
  purpose: "What it is tuned for",
};

/** Where another one is entered; purposes are Ubrex's own. */
const PLACES: Record<Pickable, { to: string; text: string } | null> = {
  machine: { to: "/machines", text: "Add a machine" },
  nozzle: { to: "/machines", text: "Add a nozzle to its hotend" },
  surface: { to: "/machines", text: "Add a surface to its machine" },
  filament: { to: "/filaments", text: "Add a filament" },
  purpose: null,
};

type Props = { setupId: number; part: Pickable; onDone: (id: number) => void; onClose: () => void };

/** Change one part of the setup: choose it, see the setup that results, then put that on the bench. */
export function PickDialog({ setupId, part, onDone, onClose }: Props) {
  const picks = usePicks(setupId, part);
  const [at, setAt] = useState<number | null>(null);
  const chosen = at === null ? undefined : picks.data?.[at];
  const place = PLACES[part];
  const add = place && (
    <Link className="link" to={place.to}>
      {place.text}
    </Link>
  );
  return (
    <Modal title={TITLES[part]} onClose={onClose} wide>
      {picks.isError && <Trouble error={picks.error} onAgain={() => picks.refetch()} />}
      {picks.isPending && <Waiting />}
      {picks.data?.length === 0 && <p className="text-reason">None is entered yet. {add}</p>}
      {picks.data && picks.data.length > 0 && !chosen && (
        <Lookup
          label={`Find: ${TITLES[part].toLowerCase()}`}
          hint="any part of its name"
          none={<>None is called that. {add}</>}
          value={picks.data.findIndex((row) => row.now)}
          options={picks.data.map((row, index) => ({
            value: index,
            text: row.text,
            beside: row.now ? "on the bench" : row.beside,
          }))}
          onChosen={setAt}
        />
      )}
      {chosen && <Result pick={chosen} onDone={onDone} onBack={() => setAt(null)} onClose={onClose} />}
    </Modal>
  );
}

type ResultProps = {
  pick: Schemas["PickOut"];
  onDone: (id: number) => void;
  onBack: () => void;
  onClose: () => void;
};

function Result({ pick, onDone, onBack, onClose }: ResultProps) {
  const put = useWrite(
    () => answer(api.POST("/api/v1/assemblies", { params: { header: writeHeaders() }, body: pick.form })),
    (setup) => onDone(setup.id),
  );
  return (
    <>
      <p className="text-cell font-[650]">{pick.title}</p>
      <p className="mt-1 mb-4 text-reason">{pick.result}</p>
      {put.error && (
        <p role="alert" className="mb-3 text-care font-semibold text-out">
          {put.error.fields[0]?.message ?? put.error.detail}
        </p>
      )}
      <div className="flex flex-wrap gap-3">
        <button
          type="button"
          autoFocus
          className="button button-main"
          disabled={put.isPending}
          onClick={() => put.mutate(undefined)}
        >
          Put it on the bench <KeyHint onBlue>Enter</KeyHint>
        </button>
        <button type="button" className="button" onClick={onBack}>
          Choose again
        </button>
        <button type="button" className="button" onClick={onClose}>
          Not now <KeyHint>Esc</KeyHint>
        </button>
      </div>
    </>
  );
}
