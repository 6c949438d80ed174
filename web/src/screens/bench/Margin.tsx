import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useDueCounters, useFaults, useStands } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { clockOf, dayOf } from "../../shell/dates";
import { undoLast, useUndoable } from "../../shell/undo";
import { Attempts } from "./Attempts";
import { ChangeLine } from "./ChangeLine";

type Props = {
  bench: Schemas["BenchOut"];
  onLog: () => void;
  onNote: () => void;
  onRemove: () => void;
  onReadBack: (row: Schemas["BenchReadBackOut"]) => void;
};

/** What stands beside the rows; drawn after them, so that they can be used sooner. */
export function Margin(props: Props) {
  return (
    <aside className="shrink-0 border-t-4 border-double border-ink px-3 py-3 desk:px-6 wide:w-64 wide:overflow-y-auto wide:border-t-0 wide:border-l-4 wide:px-4">
      {useStands() && <Beside {...props} />}
    </aside>
  );
}

/** What waits, what was changed, and what was done. */
function Beside({ bench, onLog, onNote, onRemove, onReadBack }: Props) {
  const { recent, changes, waiting, notes, last_revision: revision } = bench;
  const counters = useDueCounters(bench.setup.id).data ?? [];
  const unread = bench.read_backs;
  const faults = useFaults().data;
  const cases = (faults?.cases ?? []).filter((row) => !row.closed && row.machine === bench.setup.machine);
  const found = (faults?.found ?? []).filter((row) => row.machine === bench.setup.machine);
  const done = useUndoable();
  return (
    <>
      {[unread, waiting, counters, cases, found].some((rows) => rows.length > 0) && (
        <section className="mb-3 border-b border-rule pb-3">
          <h2 className="mb-1 text-name">Waiting</h2>
          {cases.map((row) => (
            <p key={row.id} className="mb-1 text-body">
              <Link className="link" to={`/faults/${row.id}`}>
                {row.title}
              </Link>
            </p>
          ))}
          {found.map((row) => (
            <p key={row.key} className="mb-1 text-body">
              <Link className="link" to={`/faults/${row.fault_id}`}>
                {row.text}
              </Link>
              {row.unsafe ? <strong className="text-out">: it holds the next job.</strong> : ": not mended."}
            </p>
          ))}
          {waiting.map((row) => (
            <p key={row.sentence} className="mb-1 text-body">
              {row.until && <strong>Until {clockOf(row.until)}: </strong>}
              {row.sentence}
            </p>
          ))}
          {counters.map((counter) => (
            <p key={counter.part} className="mb-1 text-body">
              <strong>
                {counter.name}: {counter.used}.
              </strong>{" "}
              {counter.advice}
            </p>
          ))}
          {unread.map((row) => (
            <div key={row.value.id}>
              <p className="mb-1 text-body">
                <strong>{row.value.name}:</strong> recorded {row.value.setting}
                {row.machine_says && `, the machine says ${row.machine_says}`}. {row.value.read_back.sentence}
              </p>
              <button type="button" className="button mb-1 w-full" onClick={() => onReadBack(row)}>
                Read it back {row === unread[0] && <KeyHint>B</KeyHint>}
              </button>
            </div>
          ))}
        </section>
      )}
      {done && (
        <p role="status" className="mb-3 border-b border-rule pb-2 text-body">
          {done.said}.{" "}
          <button type="button" className="link min-h-11" onClick={undoLast}>
            Undo <KeyHint>Ctrl Z</KeyHint>
          </button>
        </p>
      )}
      <Attempts setupId={bench.setup.id} removed={bench.setup.removed} />
      <section className="mb-3 border-b border-rule pb-3">
        <h2 className="mb-1 text-name">Last changes</h2>
        <ul>
          {changes.map((change) => (
            <ChangeLine key={change.id} setupId={bench.setup.id} change={change} />
          ))}
        </ul>
        {!bench.setup.removed && (
          <>
            <button type="button" className="button mt-2 w-full" onClick={onLog}>
              Log a change <KeyHint>C</KeyHint>
            </button>
            <Link
              className="link flex min-h-11 items-center gap-2 text-body"
              to={`/setups/${bench.setup.id}/checks`}
            >
              Check the machine <KeyHint>K</KeyHint>
            </Link>
            <Link
              className="link flex min-h-11 items-center gap-2 text-body"
              to={`/setups/${bench.setup.id}/guides`}
            >
              Guides <KeyHint>G</KeyHint>
            </Link>
          </>
        )}
      </section>
      <section className="mb-3 border-b border-rule pb-3">
        <h2 className="mb-1 text-name">Notes</h2>
        {notes.map((row) => (
          <p key={row.at} className="mb-1">
            <span className="note">{row.text}</span>{" "}
            <span className="text-small text-ink-2">
              {row.person}, {dayOf(row.at)}
            </span>
          </p>
        ))}
        {!bench.setup.removed && (
          <button type="button" className="button mt-2 w-full" onClick={onNote}>
            Write a note <KeyHint>N</KeyHint>
          </button>
        )}
      </section>
      <h2 className="mb-2 text-name">Done to this setup</h2>
      {revision && (
        <p className="border-b border-rule pb-2 text-body">
          <Link to="/profiles" className="link">
            Revision {revision.number}
          </Link>{" "}
          {revision.cause.toLowerCase()}
          <span className="block text-small text-ink-2">
            {dayOf(revision.at)}, {revision.person}
          </span>
        </p>
      )}
      {recent.length === 0 && <p className="text-body text-ink-2">Nothing yet.</p>}
      <ul>
        {recent.map((run) => (
          <li key={run.id} className="border-b border-rule py-2 last:border-b-0">
            <Link to={`/runs/${run.id}`} className="block">
              <span className="block text-small text-ink-2">
                {dayOf(run.started_at)}, {run.person}, run {run.id}
              </span>
              <span className="link text-body">{run.outcome}</span>
            </Link>
          </li>
        ))}
      </ul>
      {!bench.setup.removed && (
        <button type="button" className="link mt-3 min-h-11 text-body text-ink-2" onClick={onRemove}>
          Take this setup out of use
        </button>
      )}
    </>
  );
}
