import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useFilaments } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { Page } from "../../shell/Page";
import { RecordDialog, type RecordOpen } from "../../shell/RecordDialog";
import { Trouble, Waiting } from "../../shell/Trouble";
import { SpoolEntryDialog } from "./SpoolEntryDialog";

type Filament = Schemas["FilamentOut"];
type Spool = Schemas["SpoolOut"];

/** Filaments with what their label says, their spools, and what was found on each. */
export function FilamentsScreen() {
  const filaments = useFilaments();
  const [open, setOpen] = useState<RecordOpen | null>(null);
  const [spool, setSpool] = useState<Spool | null>(null);
  const [text, setText] = useState("");
  const add = () => setOpen({ kind: "filament", id: null });
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = (filaments.data ?? []).filter((row) => {
    const named = `${row.name} ${row.maker} ${row.family} ${row.colour}`.toLowerCase();
    return !row.retired && words.every((word) => named.includes(word));
  });
  return (
    <Page tab="Filaments" keys={[{ key: "+", label: "add a filament", run: add }]}>
      <div className="px-3 py-3 desk:px-6">
        <div className="mb-2 flex flex-wrap items-center gap-4">
          <h1 className="text-cell">Filaments</h1>
          {(filaments.data?.length ?? 0) > 7 && (
            <input
              aria-label="Find a filament"
              className="field max-w-72"
              placeholder="name, maker or colour"
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
          )}
          <button type="button" className="button ml-auto" onClick={add}>
            Add a filament <KeyHint>+</KeyHint>
          </button>
        </div>
        {filaments.isError && <Trouble error={filaments.error} onAgain={() => filaments.refetch()} />}
        {filaments.isPending && <Waiting />}
        {filaments.data && shown.length === 0 && <p className="text-reason">None that is called so.</p>}
        <ul className="border-t-2 border-ink">
          {shown.map((row) => (
            <FilamentRow key={row.id} filament={row} onOpen={setOpen} onEntry={setSpool} />
          ))}
        </ul>
      </div>
      {open && <RecordDialog key={`${open.kind} ${open.id}`} open={open} onClose={() => setOpen(null)} />}
      {spool && <SpoolEntryDialog spool={spool} onClose={() => setSpool(null)} />}
    </Page>
  );
}

type RowProps = {
  filament: Filament;
  onOpen: (open: RecordOpen) => void;
  onEntry: (spool: Spool) => void;
};

function FilamentRow({ filament, onOpen, onEntry }: RowProps) {
  const spools = filament.spools.filter((row) => !row.retired);
  return (
    <li className="grid gap-x-8 gap-y-2 border-b border-rule py-3 wide:grid-cols-[1fr_1.2fr]">
      <div className="min-w-0">
        <div className="flex flex-wrap items-baseline gap-x-4">
          <h2 className="text-name font-bold">{filament.name}</h2>
          <span className="text-body text-ink-2">
            {[filament.family, filament.flags].filter(Boolean).join(", ")}
          </span>
          <button
            type="button"
            className="link min-h-11 text-body"
            aria-label={`Change ${filament.name}`}
            onClick={() => onOpen({ kind: "filament", id: filament.id })}
          >
            Change
          </button>
        </div>
        <dl className="grid grid-cols-[5rem_1fr] text-body">
          <dt className="text-ink-2">Nozzle</dt>
          <dd>
            {filament.label}
            {filament.from_label && <span className="text-ink-2"> on the label</span>}
          </dd>
          <dt className="text-ink-2">Bed</dt>
          <dd>{filament.bed}</dd>
          <dt className="text-ink-2">Dry at</dt>
          <dd>{filament.dry}</dd>
        </dl>
        <p className="text-small text-ink-2">{filament.notes}</p>
      </div>
      <div className="min-w-0">
        {spools.length === 0 && <p className="text-body text-ink-2">No spool yet.</p>}
        <ul>
          {spools.map((row) => (
            <li key={row.id} className="border-b border-rule py-1 last:border-b-0">
              <div className="flex flex-wrap items-baseline gap-x-4">
                <button
                  type="button"
                  className="link min-h-11 text-body"
                  onClick={() => onOpen({ kind: "spool", id: row.id, parent: filament.id })}
                >
                  {row.name}
                </button>
                <span className="text-body">
                  {row.left}, {row.dried}
                </span>
                <button
                  type="button"
                  className="link ml-auto min-h-11 text-body"
                  onClick={() => onEntry(row)}
                >
                  Weigh, dry, test<span className="sr-only"> spool {row.name}</span>
                </button>
              </div>
              <ul className="text-small text-ink-2">
                {row.entries.map((entry) => (
                  <li key={`${entry.on} ${entry.sentence}`}>
                    {entry.on}, {entry.person}: {entry.sentence}
                    {entry.note && <span className="font-note text-body italic"> {entry.note}</span>}
                  </li>
                ))}
              </ul>
            </li>
          ))}
        </ul>
        <button
          type="button"
          className="link min-h-11 text-body"
          onClick={() => onOpen({ kind: "spool", id: null, parent: filament.id })}
        >
          Add a spool
        </button>
      </div>
    </li>
  );
}
