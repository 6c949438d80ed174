import { useState } from "react";
import { answer, api, editHeaders, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { useInstruments } from "../../api/queries";
import { Field } from "../../shell/Field";
import { Modal } from "../../shell/Modal";
import { useWrite } from "../../shell/useWrite";
import { AddInstrument } from "./AddInstrument";

/** Another tool from here on; a zero check; whether earlier scatter counts. */
export function InstrumentDialog({ run, onClose }: { run: Schemas["RunOut"]; onClose: () => void }) {
  const [adding, setAdding] = useState(false);
  const [wrong, setWrong] = useState("");
  const instruments = useInstruments();
  const usable = (instruments.data ?? [run.instrument]).filter((tool) =>
    run.entry?.tools.includes(tool.kind),
  );
  const edit = useWrite(
    (body: Schemas["RunEditIn"]) =>
      answer(
        api.PATCH("/api/v1/runs/{run_id}", {
          params: { path: { run_id: run.id }, header: editHeaders(run.version) },
          body,
        }),
      ),
    onClose,
  );
  const [known, setKnown] = useState("");
  const [read, setRead] = useState("");
  const zero = useWrite(() =>
    answer(
      api.POST("/api/v1/instruments/{instrument_id}/zero-checks", {
        params: { path: { instrument_id: run.instrument.id }, header: writeHeaders() },
        body: { known, read },
      }),
    ),
  );
  if (adding) {
    return (
      <AddInstrument
        kind={run.entry?.tools[0] ?? null}
        onAdded={(tool) => edit.mutate({ instrument_id: tool.id })}
        onClose={() => setAdding(false)}
      />
    );
  }
  return (
    <Modal title="Measuring tool" onClose={onClose}>
      <p className="mb-3 text-reason">
        Readings already taken keep their tool. Readings of two tools are judged by the coarser.
      </p>
      {usable.map((tool) => (
        <button
          key={tool.id}
          autoFocus={tool.id === run.instrument.id}
          type="button"
          className="button mb-2 w-full justify-start whitespace-normal"
          aria-pressed={tool.id === run.instrument.id}
          onClick={() => edit.mutate({ instrument_id: tool.id })}
        >
          {tool.name}{" "}
          <span className="text-body font-normal text-ink-2">
            {tool.detail}
            {tool.id === run.instrument.id && ", in use"}
          </span>
        </button>
      ))}
      <button type="button" className="link min-h-11 text-body" onClick={() => setAdding(true)}>
        Add a tool
      </button>
      {run.instrument.closes && (
        <form
          aria-label="Zero check"
          className="mt-2 border-t border-rule pt-3"
          onSubmit={(event) => {
            event.preventDefault();
            zero.mutate(undefined);
          }}
        >
          <p className="text-reason">
            Zero check of {run.instrument.name}: close it on a drill shank or a feeler gauge, or empty. It
            counts for what is read from now on, this evening.
          </p>
          <div className="mt-1 grid grid-cols-2 items-start gap-3 desk:grid-cols-[1fr_1fr_auto]">
            <Field
              label="Closed on"
              unit="mm"
              decimal
              value={known}
              onChange={setKnown}
              hint="Empty: nothing between the jaws."
              problem={problemAt(zero.error, "known")?.message}
            />
            <Field
              label="It reads"
              unit="mm"
              decimal
              value={read}
              onChange={setRead}
              problem={problemAt(zero.error, "read")?.message}
            />
            <button type="submit" className="button desk:mt-6">
              Note it
            </button>
          </div>
          <p role="status" className="text-body text-ink-2">
            {zero.data?.zero_checked}
          </p>
        </form>
      )}
      {run.actions.includes("zero") && (
        <form
          className="mt-2 flex items-end gap-3 border-t border-rule pt-3"
          onSubmit={(event) => {
            event.preventDefault();
            edit.mutate({ zero: wrong });
          }}
        >
          <Field
            label="Found afterwards: closed, it read"
            unit="mm"
            decimal
            value={wrong}
            onChange={setWrong}
            hint="It is taken off every reading of this run; what was read stays on record."
            problem={problemAt(edit.error, "zero")?.message}
          />
          <button type="submit" className="button" disabled={wrong === ""}>
            Take it off
          </button>
        </form>
      )}
      {run.actions.includes("history") && (
        <label className="mt-2 flex min-h-11 items-center gap-3 text-body">
          <input
            type="checkbox"
            className="size-5"
            checked={run.use_history}
            onChange={(event) => edit.mutate({ use_history: event.target.checked })}
          />
          Count the scatter of earlier runs with this method and tool
        </label>
      )}
      {edit.error && (
        <p role="alert" className="mt-2 text-care font-semibold text-out">
          {edit.error.detail}
        </p>
      )}
      <button type="button" className="button mt-3" onClick={onClose}>
        Done
      </button>
    </Modal>
  );
}
