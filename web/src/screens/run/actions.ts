import type { Schemas } from "../../api/client";
import type { KeyAction } from "../../shell/keys";

/** What can be done with a run as it stands, as the workshop says it. */
export type Action = Schemas["RunOut"]["actions"][number];

/** What this screen does for each thing that it offers. */
export type Doers = Partial<Record<Action, () => void>>;

type Way = { keys: readonly string[]; label: string; button: string; quiet?: true };

/** The one list of keys and buttons of a run. Of two that are offered together and share a key, the first has it. */
export const WAYS: Readonly<Record<Action, Way>> = {
  take: { keys: ["Enter"], label: "take", button: "Take" },
  take_back: { keys: ["U"], label: "take back", button: "Take back" },
  band_out: { keys: ["X"], label: "band out", button: "Band out" },
  strike: { keys: ["X", "R"], label: "strike out", button: "Strike out" },
  skip: { keys: ["S"], label: "skip this place", button: "Skip this place" },
  instrument: { keys: ["I"], label: "other tool", button: "Other tool" },
  early: { keys: ["E"], label: "show the result early", button: "Show it now" },
  old_box: { keys: ["Y"], label: "it is that box", button: "It is that box" },
  new_box: { keys: ["N"], label: "printed anew", button: "Printed anew" },
  apply: { keys: ["A"], label: "apply", button: "Apply" },
  keep: { keys: ["K"], label: "keep", button: "Keep" },
  walked: { keys: ["W"], label: "other order", button: "Measured in another order?", quiet: true },
  list: { keys: ["V"], label: "a list", button: "From a list", quiet: true },
  photos: { keys: ["P"], label: "photos", button: "Photos" },
  swap: { keys: ["S"], label: "swap bands", button: "Two bands swapped?", quiet: true },
  leave: { keys: ["L"], label: "leave the run", button: "Leave" },
  reprint: { keys: [], label: "print again", button: "Print again" },
  zero: { keys: [], label: "zero found wrong", button: "Take it off" },
  soft: { keys: ["F"], label: "read softly", button: "Read softly", quiet: true },
  history: { keys: [], label: "scatter of earlier runs", button: "Count it" },
  rate: { keys: [], label: "rate", button: "Rate" },
  clear: { keys: ["Backspace"], label: "clear", button: "Clear" },
  purpose: { keys: [], label: "rated for", button: "Rated for" },
};

/** The key that a button of an action shows. */
export function keyOf(action: Action): string {
  return WAYS[action].keys[0] ?? "";
}

const IN_ORDER = Object.keys(WAYS) as Action[];

/** What is both offered by the workshop and done by the screen, in the order of the list. */
export function offered(actions: readonly Action[], doers: Doers): Action[] {
  return IN_ORDER.filter((action) => actions.includes(action) && doers[action] !== undefined);
}

/** The keys of a run's screen: of what is offered and nothing else, and none of those that are `taken`. */
export function keysOf(
  actions: readonly Action[],
  doers: Doers,
  taken: readonly KeyAction[] = [],
): KeyAction[] {
  const keys: KeyAction[] = [];
  const isFree = (key: string) => ![...taken, ...keys].some((other) => other.key === key);
  for (const action of offered(actions, doers)) {
    const { keys: wanted, label, quiet } = WAYS[action];
    const key = wanted.find(isFree);
    const run = doers[action];
    if (key && run) keys.push({ key, label, run, ...(quiet ? { quiet } : {}) });
  }
  if (actions.includes("take_back") && doers.take_back)
    keys.push({ key: "Ctrl+Z", label: "take back", run: doers.take_back, quiet: true });
  return keys;
}
