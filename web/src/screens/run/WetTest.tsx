import { type FormEvent, useState } from "react";
import { answer, api, type Schemas, writeHeaders } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { TitleBlock } from "../../instrument/TitleBlock";
import { Field } from "../../shell/Field";
import { Page } from "../../shell/Page";
import { useWrite } from "../../shell/useWrite";

type Props = { start: Schemas["StartOut"]; test: Schemas["WetTestOut"]; onGoOn: () => void };

/** Before a tower of thirsty filament: 50 mm in the air. What was heard is written on the spool's log. */
export function WetTest({ start, test, onGoOn }: Props) {
  const [pops, setPops] = useState("");
  const note = useWrite<number, Schemas["StartOut"]>((heard) =>
    answer(
      api.POST("/api/v1/setups/{setup_id}/wet-tests", {
        params: {
          path: { setup_id: start.setup.id },
          query: { step: start.step },
          header: writeHeaders(),
        },
        body: { pops: heard },
      }),
    ),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    note.mutate(Math.round(Number(pops)) || 0);
  };
  const silent = () => (test.spool_id === null ? onGoOn() : note.mutate(0));
  return (
    <Page
      tab="Runs"
      keys={[]}
      back="/"
      title={
        <TitleBlock
          cells={[
            { label: "New run", value: start.name, wide: true },
            { label: "Filament", value: start.setup.filament, detail: start.setup.filament_detail },
          ]}
        />
      }
    >
      <div className="mx-auto w-full max-w-160 px-3 py-6 desk:px-6">
        <h1 className="text-verdict">{test.wet ? "It was wet: dry it first" : "First listen to it"}</h1>
        <p className="mt-2 text-reason">{test.sentence}</p>
        {test.found && <p className="mt-1 text-reason text-ink-2">Found last: {test.found}.</p>}
        <p className="mt-2 text-care font-semibold text-stale">
          Hot filament spits when it is wet: keep face and fingers away from the nozzle.
        </p>
        <div className="mt-4 flex flex-wrap items-start gap-4">
          <button type="button" className="button button-main" onClick={silent} autoFocus>
            Smooth and silent <KeyHint onBlue>Enter</KeyHint>
          </button>
          {test.spool_id !== null && (
            <form onSubmit={submit} className="flex items-end gap-2">
              <Field label="Pops or bubbles, counted" value={pops} decimal onChange={setPops} />
              <button type="submit" className="button" disabled={!(Number(pops) > 0)}>
                It pops
              </button>
            </form>
          )}
        </div>
        {test.spool_id === null && (
          <p className="mt-2 text-body text-ink-2">
            This setup does not say which spool is on it, so the result is not written down. If it pops, log
            “got wet” on the bench and dry it.
          </p>
        )}
        {note.error && (
          <p role="alert" className="mt-2 text-care font-semibold text-out">
            {note.error.detail}
          </p>
        )}
        <p className="mt-6">
          <button type="button" className="link min-h-11 text-body" onClick={onGoOn}>
            Print it anyway
          </button>{" "}
          <span className="text-body text-ink-2">What is seen or measured then may be the water.</span>
        </p>
      </div>
    </Page>
  );
}
