import type { FieldProblem, Problem } from "../../api/client";
import type { AskedFor } from "../../api/outbox";

/** What was asked about a reading that the workshop did not take as it was. */
export type Doubt = {
  typed: string;
  message: string;
  code: FieldProblem["code"];
  confirmable: boolean;
  suggested: string | null;
};

/**
 * The entry of a run: what stands in the field, what is asked about it, what was taken last. `place`: where it was asked for
 * when its first digit was typed; whatever comes in meanwhile, that is where it was read.
 */
export type Entry = { typed: string; place: AskedFor | null; doubt: Doubt | null; taken: string };

export type EntryEvent =
  | { kind: "typed"; text: string; now: AskedFor | null }
  | { kind: "enter"; now: AskedFor | null }
  | { kind: "suggested" }
  | { kind: "again"; typed: string; place: AskedFor | null; code: FieldProblem["code"] | null }
  | { kind: "stored"; text: string }
  | { kind: "refused"; typed: string; place: AskedFor | null; problem: Problem };

/** A reading to send; `asTyped`: the doubt that a person answered with "it is right". */
export type Sending = { typed: string; place: AskedFor | null; asTyped: FieldProblem["code"] | null };

/** Code of the refusal of a reading whose place has got another one meanwhile. */
export const PLACE_TAKEN = "place_taken";

/** `back`: the reading that was refused stands in the field again, and is on its way no longer. */
export type Step = { entry: Entry; send: Sending | null; back: boolean };

/** What one event makes of the entry. Entry never waits: what is sent leaves the field at once. */
export function next(entry: Entry, event: EntryEvent): Step {
  const stay = (changed: Partial<Entry>): Step => ({
    entry: { ...entry, ...changed },
    send: null,
    back: false,
  });
  const put = (typed: string, place: AskedFor | null, asTyped: Sending["asTyped"]): Step => ({
    entry: { ...entry, typed: "", place: null, doubt: null },
    send: { typed, place, asTyped },
    back: false,
  });
  const { doubt, typed } = entry;
  switch (event.kind) {
    case "typed":
      return stay({
        typed: event.text,
        place: event.text === "" ? null : typed === "" ? event.now : entry.place,
        doubt: doubt && event.text !== doubt.typed ? null : doubt,
      });
    case "enter":
      // A second Enter on the same doubtful number takes it as typed.
      return put(
        typed,
        entry.place ?? event.now,
        doubt?.confirmable && doubt.typed === typed ? doubt.code : null,
      );
    case "suggested":
      return doubt?.suggested ? put(doubt.suggested, entry.place, null) : stay({});
    case "again":
      return put(event.typed, event.place, event.code);
    case "stored":
      return stay({ taken: event.text });
    case "refused":
      // Back into the field, unless the next number is being typed there already.
      if (typed !== "" || event.problem.fields.length === 0) return stay({});
      return {
        ...stay({
          typed: event.typed,
          place: codeOf(event.problem) === PLACE_TAKEN ? null : event.place,
          doubt: doubtOf(event.typed, event.problem),
        }),
        back: true,
      };
  }
}

function codeOf(problem: Problem): string {
  return problem.fields[0]?.code ?? problem.code;
}

function doubtOf(typed: string, problem: Problem): Doubt {
  const field = problem.fields[0];
  return {
    typed,
    message: field?.message ?? problem.detail,
    code: codeOf(problem),
    confirmable: field?.confirmable ?? false,
    suggested: field?.suggested ?? null,
  };
}
