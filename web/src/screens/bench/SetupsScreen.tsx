import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useStandings } from "../../api/queries";
import { store } from "../../api/storage";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";

/** Which one tonight? All setups side by side; a press puts one on the bench. */
export function SetupsScreen() {
  const navigate = useNavigate();
  const setups = useStandings();
  const rows = setups.data ?? [];
  const take = (id: number) => {
    store("ubrex.setup", String(id));
    navigate("/");
  };
  return (
    <Page tab="Bench" name="Which setup tonight" keys={[]}>
      <div className="w-full px-3 py-4 desk:px-6">
        <h1 className="mb-2 text-cell">Which one tonight?</h1>
        {setups.isPending && <Waiting />}
        {setups.isError && <Trouble error={setups.error} onAgain={() => setups.refetch()} />}
        {setups.data && rows.length === 0 && (
          <p className="border-t-2 border-ink py-3 text-reason text-ink-2">
            No setup yet. Make one on the bench.
          </p>
        )}
        {rows.length > 0 && (
          <table className="w-full border-t-2 border-ink text-body max-desk:block">
            <thead className="max-desk:sr-only">
              <tr className="border-b border-ink text-left text-small text-ink-2">
                {["Machine", "Filament", "Good enough for", "Next", "Waits", "Printed last"].map((head) => (
                  <th key={head} scope="col" className="py-1 pr-4 font-normal">
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody className="max-desk:block">
              {rows.map((row) => (
                <Line key={row.id} row={row} onTake={() => take(row.id)} />
              ))}
            </tbody>
          </table>
        )}
      </div>
    </Page>
  );
}

type Props = { row: Schemas["SetupLineOut"]; onTake: () => void };

function Line({ row, onTake }: Props) {
  const cell = "py-2 pr-4 align-top max-desk:block max-desk:py-0.5";
  return (
    <tr className="border-b border-rule max-desk:block max-desk:py-2">
      <td className={cell}>
        <button type="button" className="link text-left text-name font-[650]" onClick={onTake}>
          {row.machine}
        </button>
        <span className="block text-ink-2">
          {row.hotend}, {row.nozzle_mm}&nbsp;mm
        </span>
      </td>
      <td className={cell}>
        <span className="text-name font-semibold">{row.filament}</span>
        <span className="block text-ink-2">{row.surface}</span>
      </td>
      <td className={cell}>
        <span className="text-small text-ink-2 desk:hidden">Good enough for </span>
        {row.good_for.length > 0 ? (
          <span className="font-semibold text-asked">{row.good_for.join(", ")}</span>
        ) : (
          <span className="text-ink-2">nothing yet</span>
        )}
      </td>
      <td className={cell}>
        <span className="text-small text-ink-2 desk:hidden">Next </span>
        {row.next_step ? <strong>{row.next_step}</strong> : <span className="text-ink-2">nothing</span>}
        <span className="block text-small text-ink-2">{row.next_why}</span>
      </td>
      <td className={cell}>
        {row.waits.map((said) => (
          <span key={said} className="block text-stale">
            {said}
          </span>
        ))}
      </td>
      <td className={cell}>
        <span className="text-small text-ink-2 desk:hidden">Printed last </span>
        {row.last_print || <span className="text-ink-2">nothing logged</span>}
      </td>
    </tr>
  );
}
