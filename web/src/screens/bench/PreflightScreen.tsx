import { useState } from "react";
import { useParams } from "react-router";
import { usePreflight } from "../../api/queries";
import { readStored, store } from "../../api/storage";
import { Page } from "../../shell/Page";
import { Trouble, Waiting } from "../../shell/Trouble";

/** The card before a print: eight ticks, on the phone and as A6. A digit ticks its line. */
export function PreflightScreen() {
  const setupId = Number(useParams().setupId);
  const card = usePreflight(setupId);
  const place = `ubrex.preflight.${setupId}`;
  const [ticked, setTicked] = useState<readonly string[]>(() => kept(place));
  const toggle = (lead: string) => {
    const next = ticked.includes(lead) ? ticked.filter((one) => one !== lead) : [...ticked, lead];
    setTicked(next);
    store(place, JSON.stringify({ at: Date.now(), ticked: next }));
  };
  const rows = card.data?.ticks ?? [];
  const left = rows.filter((row) => !ticked.includes(row.lead)).length;
  return (
    <Page
      tab="Bench"
      name="Before the print"
      keys={[
        { key: "P", label: "print the card", run: () => window.print() },
        ...rows.map((row, index) => ({
          key: String(index + 1),
          label: row.lead,
          run: () => toggle(row.lead),
          quiet: true,
        })),
      ]}
      aside={card.data?.setup.title}
    >
      {card.isPending && <Waiting />}
      {card.isError && <Trouble error={card.error} onAgain={() => card.refetch()} />}
      {card.data && (
        <article
          aria-label="Before the print"
          className="paper paper-a6 max-w-300! px-3 print:max-w-none! py-3 desk:px-6"
        >
          <h1 className="text-cell">Before the print</h1>
          <p className="mb-2 border-b-2 border-ink pb-1 text-body">{card.data.setup.title}</p>
          {(card.data?.holds ?? []).map((row) => (
            <p
              key={row}
              className="mb-1 border-l-6 border-stale bg-well px-3 py-1 text-care print:py-0 print:text-small print:leading-tight"
            >
              {row}
            </p>
          ))}
          <ol className="desk:grid desk:grid-cols-2 desk:gap-x-8 print:block">
            {rows.map((row, index) => (
              <li key={row.lead} className="border-b border-rule">
                <label className="flex min-h-12 items-start gap-3 py-2 print:min-h-0 print:py-0.5">
                  <input
                    type="checkbox"
                    className="mt-0.5 size-6 shrink-0"
                    checked={ticked.includes(row.lead)}
                    onChange={() => toggle(row.lead)}
                  />
                  <span className="text-care leading-snug print:text-small print:leading-tight">
                    <strong>
                      {index + 1}. {row.lead}
                    </strong>{" "}
                    {row.text}
                  </span>
                </label>
              </li>
            ))}
          </ol>
          <p role="status" className="no-print mt-3 text-reason">
            {left > 0 && `${left} to go.`}
            {left === 0 &&
              (card.data.holds.length > 0
                ? "All eight seen to. What stands above them stays."
                : "All eight seen to. Print.")}
          </p>
          {card.data.cautions.map((row) => (
            <p key={row.lead} className="no-print mt-1 text-body">
              <strong className="text-stale">{row.lead}</strong> {row.text}
            </p>
          ))}
        </article>
      )}
    </Page>
  );
}

const EVENING_MS = 12 * 3600 * 1000;

/** What was ticked this evening: a reload, or a call in between, does not begin the card anew. */
function kept(place: string): readonly string[] {
  try {
    const { at, ticked } = JSON.parse(readStored(place) ?? "") as { at: number; ticked: string[] };
    return Date.now() - at < EVENING_MS ? ticked : [];
  } catch {
    return [];
  }
}
