import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import {
  answer,
  api,
  isProblem,
  type Problem,
  problemAt,
  type Schemas,
  writeHeaders,
} from "../../api/client";
import { refresh } from "../../api/queries";
import { KeyHint } from "../../instrument/KeyHint";
import { Field, useRefused } from "../../shell/Field";
import { usePerson } from "../../shell/Person";
import { store } from "../../api/storage";
import { InstrumentFields, type InstrumentTyped } from "./InstrumentFields";
import { RestoreBackup } from "./RestoreBackup";
import { EMPTY_SETUP, SetupFields } from "./SetupFields";

/** An empty workshop: one short form, then the bench. */
export function FirstSetupScreen({ workshop }: { workshop: Schemas["WorkshopOut"] }) {
  const { choose } = usePerson();
  const queries = useQueryClient();
  const [setup, setSetup] = useState(EMPTY_SETUP);
  const [tool, setTool] = useState<InstrumentTyped>({
    name: "Calliper",
    kind: "calliper",
    step: "0.01",
    permissible_error: "",
  });
  const [name, setName] = useState(workshop.people[0]?.name ?? "");
  const [problem, setProblem] = useState<Problem | null>(null);
  const form = useRefused(problem);
  const said = (field: string) => problemAt(problem, field)?.message;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const made = await answer(
        api.POST("/api/v1/first-setup", {
          params: { header: writeHeaders() },
          body: { workshop: "", setup, instrument: tool, person: { name } },
        }),
      );
      choose(made.person);
      store("ubrex.setup", String(made.setup_id));
      await refresh(queries);
    } catch (error) {
      if (!isProblem(error)) throw error;
      setProblem(error);
    }
  };
  return (
    <main className="min-h-dvh bg-sheet">
      <div className="border-b-2 border-ink bg-ground px-3 py-2 text-verdict font-bold desk:px-6">Ubrex</div>
      <form ref={form} onSubmit={submit} className="mx-auto max-w-320 px-3 py-4 desk:px-6">
        <h1 className="text-step leading-tight">Your first setup</h1>
        <p className="mt-1 mb-4 max-w-180 text-reason text-ink-2">
          A tuned value is true for one machine with one hotend, one nozzle and one filament. Say what is on
          the bench; all of it can be changed later.
        </p>
        <div className="grid gap-x-8 gap-y-6 desk:grid-cols-2 wide:grid-cols-4">
          <SetupFields
            value={setup}
            onChange={setSetup}
            said={(field) => said(`setup.${field}`)}
            autoFocus
            below={
              <fieldset className="min-w-0">
                <legend className="mb-2 text-cell font-[650]">You</legend>
                <Field
                  label="Your name"
                  value={name}
                  onChange={setName}
                  problem={said("person.name")}
                  hint="Every entry carries one. No password."
                />
              </fieldset>
            }
          />
          <fieldset className="min-w-0 space-y-3">
            <legend className="mb-2 text-cell font-[650]">Measuring tool</legend>
            <Field
              label="Tool"
              value={tool.name}
              onChange={(value) => setTool({ ...tool, name: value })}
              problem={said("instrument.name")}
            />
            <InstrumentFields value={tool} onChange={setTool} said={(field) => said(`instrument.${field}`)} />
          </fieldset>
        </div>
        {problem && problem.fields.length !== 1 && (
          <p role="alert" className="mt-4 text-care font-semibold text-out">
            {problem.detail}
          </p>
        )}
        <button type="submit" className="button button-main mt-6">
          To the bench <KeyHint onBlue>Enter</KeyHint>
        </button>
        <RestoreBackup />
      </form>
    </main>
  );
}
