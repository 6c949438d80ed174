import { useNavigate, useParams } from "react-router";
import { useBench, useHistory } from "../../api/queries";
import { GaugeStrip } from "../../instrument/GaugeStrip";
import { StandingGlyph } from "../../instrument/Glyph";
import { dayOf } from "../../shell/dates";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";

/** Width of a strip [px]: as much as a number with its ± and unit takes on a card. */
const STRIP_WIDTH = 132;

/** The spool card, A6: what it was tuned on, the numbers with their ± and strips, three lines for the pencil. */
export function CardScreen() {
  const setupId = Number(useParams().setupId);
  const bench = useBench(setupId);
  const history = useHistory(setupId, undefined, undefined);
  const navigate = useNavigate();
  const newest = history.data?.revisions[0];
  return (
    <Page
      tab="Profiles"
      name="Card"
      keys={[
        { key: "P", label: "print", run: () => window.print() },
        { key: "H", label: "history", run: () => navigate("/profiles") },
      ]}
    >
      {bench.isPending && <Waiting />}
      {bench.isError && <Trouble error={bench.error} onAgain={() => bench.refetch()} />}
      {bench.data && (
        <article
          aria-label="Spool card"
          className="paper paper-a6 m-3 border border-ink bg-well p-4 desk:m-6"
        >
          <h1 className="text-cell">{bench.data.setup.filament}</h1>
          <p className="text-small">{bench.data.setup.title}</p>
          <p className="mb-2 border-b-2 border-ink pb-1 text-small">
            {newest ? `Revision ${newest.number}, ${dayOf(newest.at)}, ${newest.person}` : "No revision yet"}
          </p>
          <table className="w-full text-floor">
            <tbody>
              {bench.data.steps.map((row) => (
                <tr key={row.step} className="border-b border-rule">
                  <td className="w-8 py-0.5">
                    <StandingGlyph standing={row.standing} unverified={row.unverified} />
                  </td>
                  <td>{row.name}</td>
                  <td className="text-right font-semibold">
                    {row.value ? `${row.value.text} ${row.value.half_width_text}` : "–"}{" "}
                    {row.value?.unit_text}
                    {row.strip && (
                      <div className="flex justify-end">
                        <GaugeStrip strip={row.strip} size="inline" width={STRIP_WIDTH} />
                      </div>
                    )}
                  </td>
                  <td className="pl-2">{row.standing_word}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2 text-small">
            {bench.data.tonight
              .filter((line) => line.value)
              .map((line) =>
                [line.name, line.text, line.unit_text, line.remark && `(${line.remark})`]
                  .filter(Boolean)
                  .join(" "),
              )
              .join("; ")}
          </p>
          {history.data?.about.map((line) => (
            <p key={line} className="text-small leading-tight">
              {line}
            </p>
          ))}
          {[1, 2, 3].map((line) => (
            <div key={line} className="h-7 border-b border-ink" />
          ))}
        </article>
      )}
      <div className="no-print px-3 desk:px-6">
        <button type="button" className="button" onClick={() => window.print()}>
          Print
        </button>
      </div>
    </Page>
  );
}
