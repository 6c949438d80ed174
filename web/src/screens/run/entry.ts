import type { FieldProblem, Problem } from "../../api/client";

/** What was asked about a reading that the workshop did not take as it was. */
export type Doubt = {
  typed: string;
  message: string;
  code: FieldProblem["code"];
  confirmable: boolean;
  suggested: string | null;
};

/** The entry of a run: what stands in the field, what is asked about it, what was taken last. */
export type Entry = { typed: string; doubt: Doubt | null; taken: string };

export type EntryEvent =
  | { kind: "typed"; text: string }
  | { kind: "enter" }
  | { kind: "suggested" }
  | { kind: "again"; typed: string; code: FieldProblem["code"] | null }
  | { kind: "stored"; text: string }
  | { kind: "refused"; typed: string; problem: Problem };

/** A reading to send; `asTyped`: the doubt that a person answered with "it is right". */
export type Sending = { typed: string; asTyped: FieldProblem["code"] | null };

/** `back`: the reading that was refused stands in the field again, and is on its way no longer. */
export type Step = { entry: Entry; send: Sending | null; back: boolean };

/** What one event makes of the entry. Entry never waits: what is sent leaves the field at once. */
export function next(entry: Entry, event: EntryEvent): Step {
  const stay = (changed: Partial<Entry>): Step => ({
    entry: { ...entry, ...changed },
    send: null,
    back: false,
  });
  const put = (typed: string, asTyped: Sending["asTyped"]): Step => ({
    entry: { ...entry, typed: "", doubt: null },
    send: { typed, asTyped },
    back: false,
  });
  const { doubt, typed } = entry;
  switch (event.kind) {
    case "typed":
      return stay({ typed: event.text, doubt: doubt && event.text !== doubt.typed ? null : doubt });
    case "enter":
      // A second Enter on the same doubtful number takes it as typed.
      return put(typed, doubt?.confirmable && doubt.typed === typed ? doubt.code : null);
    case "suggested":
      return doubt?.suggested ? put(doubt.suggested, null) : stay({});
    case "again":
      return put(event.typed, event.code);
    case "stored":
      return stay({ taken: event.text });
    case "refused":
      // Back into the field, unless the next number is being typed there already.
      if (typed !== "" || event.problem.fields.length === 0) return stay({});
      return { ...stay({ typed: event.typed, doubt: doubtOf(event.typed, event.problem) }), back: true };
  }
}

function doubtOf(typed: string, problem: Problem): Doubt {
  const field = problem.fields[0];
  return {
    typed,
    message: field?.message ?? problem.detail,
    code: field?.code ?? problem.code,
    confirmable: field?.confirmable ?? false,
    suggested: field?.suggested ?? null,
  };
}
