import { type FormEvent, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { answer, api, editHeaders, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useSetup } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { useRefused } from "../../shell/Field";
import { Modal } from "../../shell/Modal";
import { Page } from "../../shell/Page";
import { store } from "../../shell/storage";
import { Trouble, Waiting } from "../../shell/Trouble";
import { useWrite } from "../../shell/useWrite";
import { SetupFields } from "./SetupFields";

/** Change what a setup consists of, put another one together from it, or take it out of use. */
export function EditSetupScreen() {
  const setup = useSetup(Number(useParams().setupId));
  if (setup.data) return <EditSetup key={setup.data.id} setup={setup.data} />;
  return (
    <Page tab="Bench" keys={[]}>
      {setup.isError ? <Trouble error={setup.error} onAgain={() => setup.refetch()} /> : <Waiting />}
    </Page>
  );
}

function EditSetup({ setup }: { setup: Schemas["SetupOut"] }) {
  const navigate = useNavigate();
  const [typed, setTyped] = useState({ ...setup.form });
  const [removing, setRemoving] = useState(false);
  const path = { setup_id: setup.id };
  const done = () => navigate("/");
  const save = useWrite(
    () =>
      answer(
        api.PUT("/api/v1/setups/{setup_id}", {
          params: { path, header: editHeaders(setup.version) },
          body: typed,
        }),
      ),
    done,
  );
  const add = useWrite(
    () => answer(api.POST("/api/v1/setups", { params: { header: writeHeaders() }, body: typed })),
    (made) => {
      store("ubrex.setup", String(made.id));
      done();
    },
  );
  const remove = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/removal", {
          params: { path, header: writeHeaders(setup.version) },
        }),
      ),
    () => {
      store("ubrex.setup", null);
      done();
    },
  );
  const problem = save.error ?? add.error ?? remove.error;
  const form = useRefused(problem);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.reset();
    save.mutate(undefined);
  };
  return (
    <Page tab="Bench" keys={[]} aside={setup.title}>
      <form ref={form} onSubmit={submit} className="max-w-320 px-3 py-4 desk:px-6">
        <h1 className="mb-1 text-step leading-tight">This setup</h1>
        <p className="mb-4 text-reason text-ink-2">
          What it shares with other setups, the machine for one, changes there too.
        </p>
        <div className="grid gap-x-8 gap-y-6 desk:grid-cols-2 wide:grid-cols-3">
          <SetupFields
            value={typed}
            onChange={setTyped}
            said={(field) => problemAt(problem, field)?.message}
            autoFocus
          />
        </div>
        {problem && problem.fields.length !== 1 && (
          <p role="alert" className="mt-4 text-care font-semibold text-out">
            {problem.detail}
          </p>
        )}
        <div className="mt-6 flex flex-wrap gap-3">
          <button type="submit" className="button button-main">
            Save <KeyHint onBlue>Enter</KeyHint>
          </button>
          <button
            type="button"
            className="button"
            onClick={() => {
              save.reset();
              add.mutate(undefined);
            }}
          >
            Add as another setup
          </button>
          <button type="button" className="button" onClick={() => setRemoving(true)}>
            Take out of use
          </button>
        </div>
      </form>
      {removing && (
        <Modal title="Take this setup out of use?" onClose={() => setRemoving(false)}>
          <p className="mb-4 text-reason">
            {setup.title}. Its runs and revisions are kept; nothing new can be measured on it.
          </p>
          <div className="flex gap-3">
            <button
              type="button"
              autoFocus
              className="button button-main"
              onClick={() => {
                setRemoving(false);
                remove.mutate(undefined);
              }}
            >
              Take out of use
            </button>
            <button type="button" className="button" onClick={() => setRemoving(false)}>
              Cancel
            </button>
          </div>
        </Modal>
      )}
    </Page>
  );
}
