import { type FormEvent, useState } from "react";
import { answer, api, problemAt, type Schemas, writeHeaders } from "../../api/client";
import { KeyHint } from "../../instrument/KeyHint";
import { Field } from "../../shell/Field";
import { useWrite } from "../../shell/useWrite";
import { Instructions } from "./Instructions";

type Props = { setupId: number; row: Schemas["ToSetOut"] };

/** What to send or type into the machine, in the order in which nothing is lost; and the read-back that proves it. */
export function AtTheMachine({ setupId, row }: Props) {
  const { value, instructions, superseded } = row;
  const [typed, setTyped] = useState("");
  const check = useWrite(
    () =>
      answer(
        api.POST("/api/v1/setups/{setup_id}/values/{value_id}/read-backs", {
          params: { path: { setup_id: setupId, value_id: value.id }, header: writeHeaders() },
          body: { typed },
        }),
      ),
    () => setTyped(""),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    check.mutate(undefined);
  };
  const { read_back: readBack } = value;
  const verified = readBack.state === "verified";
  if (superseded) return <p className="mt-4 text-reason text-ink-2">{superseded}</p>;
  return (
    <section className="mt-4">
      <h2 className="mb-2 text-cell">At the machine</h2>
      <Instructions rows={instructions} name={`value.${value.id}`} />
      {row.read_back && (
        <p
          role="status"
          data-testid="read-back"
          data-state={readBack.state}
          className={`mt-4 border-l-6 pl-3 text-care font-semibold ${verified ? "border-asked text-asked" : "border-stale text-stale"}`}
        >
          {verified ? "" : "Unverified. "}
          {readBack.sentence}
        </p>
      )}
      {row.read_back && !verified && (
        <form onSubmit={submit} className="mt-3 flex max-w-120 items-end gap-3">
          <Field
            label="The machine says"
            value={typed}
            onChange={setTyped}
            decimal
            autoFocus
            unit={value.unit_text}
            hint="= where it says the same"
            problem={problemAt(check.error, "typed")?.message ?? check.error?.detail}
          />
          <button type="submit" className="button button-main">
            Check <KeyHint onBlue>Enter</KeyHint>
          </button>
        </form>
      )}
    </section>
  );
}
