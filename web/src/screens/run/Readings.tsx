import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import type { Parcel } from "../../api/outbox";

type Props = { run: Schemas["RunOut"]; waiting: readonly Parcel[]; children?: ReactNode };

/** Readings in the order they were taken; struck ones stay, with their reason; those taken back stand under All entries. */
export function Readings({ run, waiting, children }: Props) {
  const shown = run.readings.filter((reading) => !reading.taken_back);
  const wide = run.body.kind === "rated";
  const back = run.readings.filter((reading) => reading.taken_back);
  return (
    <section
      aria-label="Readings"
      className="order-3 min-w-0 border-rule desk:border-l px-3 py-3 desk:order-none desk:overflow-y-auto desk:px-5"
    >
      <table className="w-full text-left">
        <caption className="mb-2 text-left text-name font-[650]">
          Readings{run.entry && `, ${run.entry.unit}`}
        </caption>
        <thead className="border-b-2 border-ink text-small text-ink-2">
          <tr>
            <th scope="col" className={`font-normal ${wide ? "w-36" : "w-14"}`}>
              {run.entry?.place || shown.some((reading) => reading.place) ? "Place" : "No."}
            </th>
            <th scope="col" className="pr-3 font-normal">
              Read
            </th>
            <th scope="col" className="font-normal">
              With, by
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((reading, index) => (
            <tr key={reading.id} className="border-b border-rule align-top">
              <td className="py-2.5 pr-3 text-body whitespace-nowrap text-ink-2">
                {reading.place || index + 1}
              </td>
              <td className="py-2 text-cell font-semibold">
                {reading.struck === null ? (
                  reading.text
                ) : (
                  <s className="font-normal decoration-out decoration-2">{reading.text}</s>
                )}
                {reading.odd && (
                  <span className="ml-2 text-small font-normal text-stale">odd, taken as typed</span>
                )}
                {reading.struck !== null && (
                  <span className="note block leading-tight text-ink-2">{reading.struck}</span>
                )}
              </td>
              <td className="py-2.5 text-small text-ink-2">
                {reading.instrument}, {reading.person}
              </td>
            </tr>
          ))}
          {waiting.map((parcel) => (
            <tr key={parcel.key} className="border-b border-rule">
              <td className="py-2.5 pr-3 text-body whitespace-nowrap text-ink-2">{parcel.place?.label}</td>
              <td className="py-2 text-cell">{parcel.typed}</td>
              <td className="py-2.5 text-small text-stale">not sent yet</td>
            </tr>
          ))}
          {shown.length + waiting.length === 0 && (
            <tr>
              <td colSpan={3} className="py-3 text-body text-ink-2">
                None yet.
              </td>
            </tr>
          )}
        </tbody>
      </table>
      {children}
      {back.length > 0 && (
        <details className="mt-3 text-body">
          <summary className="min-h-8 cursor-pointer text-ink-2">All entries ({run.readings.length})</summary>
          <ul>
            {back.map((reading) => (
              <li key={reading.id}>
                <s>{reading.text}</s>{" "}
                <span className="text-small text-ink-2">
                  {reading.struck}, {reading.person}
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
