import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useMachines, useTools } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { Page } from "../../shell/Page";
import { RecordDialog, type RecordOpen } from "../../shell/RecordDialog";
import { Trouble, Waiting } from "../../shell/Trouble";
import { Limits } from "./Limits";
import { Room } from "./Room";

type Machine = Schemas["MachineOut"];
type Part = Schemas["PartOut"];

/** Machines with their hotends, nozzles and surfaces; measuring tools; the room. */
export function MachinesScreen() {
  const machines = useMachines();
  const tools = useTools();
  const [open, setOpen] = useState<RecordOpen | null>(null);
  const [retired, setRetired] = useState(false);
  const add = () => setOpen({ kind: "machine", id: null });
  const shown = machines.data?.filter((row) => retired || !row.retired) ?? [];
  const hidden = (machines.data?.length ?? 0) - shown.length;
  return (
    <Page
      tab="Machines"
      keys={[
        { key: "+", label: "add a machine", run: add },
        { key: "I", label: "add a tool", run: () => setOpen({ kind: "instrument", id: null }) },
      ]}
    >
      <div className="px-3 py-3 desk:px-6">
        <div className="mb-2 flex flex-wrap items-center gap-4">
          <h1 className="text-cell">Machines</h1>
          <button type="button" className="button ml-auto" onClick={add}>
            Add a machine <KeyHint>+</KeyHint>
          </button>
        </div>
        {machines.isError && <Trouble error={machines.error} onAgain={() => machines.refetch()} />}
        {machines.isPending && <Waiting />}
        {machines.data?.length === 0 && <p className="text-reason">No machine yet. Add the first one.</p>}
        <ul className="border-t-2 border-ink">
          {shown.map((row) => (
            <MachineRow key={row.id} machine={row} onOpen={setOpen} />
          ))}
        </ul>
        {(hidden > 0 || retired) && (
          <button type="button" className="link min-h-11 text-body" onClick={() => setRetired(!retired)}>
            {retired ? "Hide the retired ones" : `Show ${hidden} retired`}
          </button>
        )}
        <div className="mt-6 grid gap-x-12 gap-y-6 desk:grid-cols-2">
          <section aria-label="Measuring tools">
            <h2 className="border-b-2 border-ink pb-1 text-cell">Measuring tools</h2>
            <Parts parts={tools.data ?? []} retired={retired} onOpen={setOpen} />
            <button
              type="button"
              className="button mt-2"
              onClick={() => setOpen({ kind: "instrument", id: null })}
            >
              Add a tool <KeyHint>I</KeyHint>
            </button>
          </section>
          <Room />
        </div>
        <Limits />
      </div>
      {open && <RecordDialog key={`${open.kind} ${open.id}`} open={open} onClose={() => setOpen(null)} />}
    </Page>
  );
}

const RUNAWAY = {
  tested: "stops by itself when its sensor fails: tested",
  maker_says: "stops by itself when its sensor fails: the maker says so",
  unknown: "whether it stops by itself when its sensor fails, nobody knows",
} as const;

function MachineRow({ machine, onOpen }: { machine: Machine; onOpen: (open: RecordOpen) => void }) {
  return (
    <li className="border-b border-rule py-3">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-verdict font-bold">
          {machine.name}
          {machine.retired && <span className="text-body font-normal text-ink-2"> retired</span>}
        </h2>
        <button
          type="button"
          className="link min-h-11 text-body"
          aria-label={`Change ${machine.name}`}
          onClick={() => onOpen({ kind: "machine", id: machine.id })}
        >
          Change
        </button>
      </div>
      <p className="text-body">
        {machine.detail};{" "}
        <span className={machine.runaway === "unknown" ? "font-semibold text-stale" : "text-ink-2"}>
          {RUNAWAY[machine.runaway]}
        </span>
        .
      </p>
      <div className="mt-2 grid gap-x-8 gap-y-3 desk:grid-cols-3">
        <Group
          of={machine.name}
          title="Hotends"
          add="hotend"
          parent={machine.id}
          parts={machine.hotends}
          onOpen={onOpen}
        />
        <div>
          {machine.hotends.map((hotend) => (
            <Group
              key={hotend.id}
              of={machine.name}
              title={machine.hotends.length > 1 ? `Nozzles in ${hotend.name}` : "Nozzles"}
              add="nozzle"
              parent={hotend.parent_id}
              parts={machine.nozzles.filter((nozzle) => nozzle.parent_id === hotend.parent_id)}
              onOpen={onOpen}
            />
          ))}
        </div>
        <Group
          of={machine.name}
          title="Surfaces"
          add="surface"
          parent={machine.id}
          parts={machine.surfaces}
          onOpen={onOpen}
        />
      </div>
    </li>
  );
}

type GroupProps = {
  of: string;
  title: string;
  add: Schemas["RecordKind"];
  parent: number | null;
  parts: readonly Part[];
  onOpen: (open: RecordOpen) => void;
};

function Group({ of, title, add, parent, parts, onOpen }: GroupProps) {
  return (
    <section aria-label={`${title} of ${of}`}>
      <div className="flex items-baseline justify-between border-b border-rule">
        <h3 className="text-body font-semibold text-ink-2">{title}</h3>
        {parent !== null && (
          <button
            type="button"
            className="link min-h-11 text-small"
            aria-label={`Add a ${add}: ${title} of ${of}`}
            onClick={() => onOpen({ kind: add, id: null, parent })}
          >
            Add
          </button>
        )}
      </div>
      <Parts parts={parts} retired={false} onOpen={onOpen} />
    </section>
  );
}

type PartsProps = { parts: readonly Part[]; retired: boolean; onOpen: (open: RecordOpen) => void };

function Parts({ parts, retired, onOpen }: PartsProps) {
  const shown = parts.filter((part) => retired || !part.retired);
  if (shown.length === 0) return <p className="py-2 text-body text-ink-2">None yet.</p>;
  return (
    <ul>
      {shown.map((part) => (
        <li key={part.id}>
          <button
            type="button"
            onClick={() => onOpen({ kind: part.kind, id: part.id, parent: part.parent_id })}
            className="block min-h-11 w-full cursor-pointer py-1 text-left"
          >
            <span className="link text-body">{part.name}</span>
            <span className="block text-small text-ink-2">{part.detail}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}
