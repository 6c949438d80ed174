import { type FormEvent, type ReactNode, useState } from "react";
import { answer, api, editHeaders, type Schemas } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { dayAndTime } from "../../shell/dates";
import { useWrite } from "../../shell/useWrite";

type Props = {
  setupId: number;
  history: Schemas["HistoryOut"];
  right: number;
  noting: boolean;
  onNoting: (on: boolean) => void;
  onRestore: () => void;
  children: ReactNode;
};

/** The later of the two revisions: when, by whom, its note; and the way back. */
export function RevisionMargin({ setupId, history, right, noting, onNoting, onRestore, children }: Props) {
  const revision = history.revisions.find((row) => row.number === right);
  if (!revision) return null;
  return (
    <aside className="shrink-0 border-t-4 border-double border-ink px-3 py-3 desk:px-6 wide:w-72 wide:border-t-0 wide:border-l-4 wide:px-4">
      <h2 className="text-name">Revision {right}</h2>
      <p className="mb-2 text-small text-ink-2">
        {dayAndTime(revision.at)}, {revision.person}
      </p>
      {noting ? (
        <NoteForm setupId={setupId} revision={revision} onDone={() => onNoting(false)} />
      ) : (
        <>
          <p className="note mb-3 whitespace-pre-wrap">{revision.note || "No note."}</p>
          <button type="button" className="button w-full" onClick={() => onNoting(true)}>
            Edit note <KeyHint>N</KeyHint>
          </button>
        </>
      )}
      {history.go_back_to !== null && !history.setup.removed && (
        <button type="button" className="button mt-3 w-full" onClick={onRestore}>
          Go back to {history.go_back_to} <KeyHint>B</KeyHint>
        </button>
      )}
      {children}
    </aside>
  );
}

type NoteProps = { setupId: number; revision: Schemas["RevisionOut"]; onDone: () => void };

function NoteForm({ setupId, revision, onDone }: NoteProps) {
  const [note, setNote] = useState(revision.note);
  const save = useWrite(
    () =>
      answer(
        api.PUT("/api/v1/setups/{setup_id}/revisions/{number}/note", {
          params: {
            path: { setup_id: setupId, number: revision.number },
            header: editHeaders(revision.version),
          },
          body: { note },
        }),
      ),
    onDone,
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(undefined);
  };
  return (
    <form onSubmit={submit}>
      <label htmlFor="revision-note" className="sr-only">
        Note
      </label>
      <textarea
        id="revision-note"
        autoFocus
        className="field note min-h-32 py-2"
        value={note}
        maxLength={2000}
        onChange={(event) => setNote(event.target.value)}
      />
      {save.error && (
        <p role="alert" className="mt-1 text-care font-semibold text-out">
          {save.error.detail}
          {save.error.code === "outdated" && revision.note !== note && <> Theirs: “{revision.note}”</>}
        </p>
      )}
      <div className="mt-2 flex gap-3">
        <button type="submit" className="button button-main">
          Save
        </button>
        <button type="button" className="button" onClick={onDone}>
          Cancel
        </button>
      </div>
    </form>
  );
}
