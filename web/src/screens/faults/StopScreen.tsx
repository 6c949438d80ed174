import { Link } from "react-router";
import { Page } from "../../shell/Page";

/** Kept in the application itself, so that they are there without a network. */
const STEPS = [
  "Off at the switch. If the switch is not safe to reach, pull the plug.",
  "Flames: everybody out, then call for help. Nobody goes back for a machine.",
  "Air the room and leave it until it is clear; birds out first.",
  "A heat that runs away: off at the switch, and stay at a distance until it is cold.",
  "Plastic above the nozzle or a lump round it: stop, heaters off, hands off. The leads are in there.",
  "Not on again before what touched is clear, what is singed is replaced, and the card “Safe to tune” was gone through.",
];

/** What to do first when it burns, runs away or leaks: large, in order, readable with one eye. */
export function StopScreen() {
  return (
    <Page tab="Faults" name="Stop first" keys={[]}>
      <div className="w-full px-3 py-4 desk:px-6">
        <h1 className="mb-3 text-step text-stale">Stop first</h1>
        <ol className="max-w-190 list-decimal space-y-3 pl-8 text-verdict font-semibold">
          {STEPS.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
        <p className="mt-4 max-w-190 text-reason text-ink-2">
          Follow the maker's instructions and local rules; work on the mains side is for somebody licensed.
        </p>
        <Link className="link mt-3 flex min-h-11 items-center text-body" to="/faults">
          It is safe: what went wrong?
        </Link>
      </div>
    </Page>
  );
}
