import { type Action, type Doers, WAYS } from "./actions";

type Props = { actions: readonly Action[]; doers: Doers; shown: readonly Action[] };

/** What else can be done with a run, as links: of `shown`, those that are offered. */
export function ActionLinks({ actions, doers, shown }: Props) {
  return shown
    .filter((action) => actions.includes(action) && doers[action])
    .map((action) => (
      <button
        key={action}
        type="button"
        className="link min-h-11 text-body desk:min-h-9"
        onClick={doers[action]}
      >
        {WAYS[action].button}
      </button>
    ));
}
