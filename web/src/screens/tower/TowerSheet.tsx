import type { Schemas } from "../../api/client";

/** A tower on paper: a box for every band and what is rated of it, top band first, and what each number means. */
export function TowerSheet({ tower }: { tower: Schemas["TowerOut"] }) {
  return (
    <>
      <table className="mt-2 w-full border-collapse text-center text-small">
        <thead>
          <tr>
            <th scope="col" className="w-16 text-left font-normal">
              {tower.unit}
            </th>
            {tower.scales.map((scale) => (
              <th key={scale.key} scope="col" className="px-1 align-bottom">
                {scale.name}
              </th>
            ))}
            <th scope="col" className="w-40 align-bottom">
              Out, and why
            </th>
          </tr>
        </thead>
        <tbody>
          {tower.bands.map((band) => (
            <tr key={band.index}>
              <th scope="row" className="text-left text-name">
                {band.text}
              </th>
              {tower.scales.map((scale) => (
                <td key={scale.key} className="h-9 border-2 border-ink" />
              ))}
              <td className="border border-ink" />
            </tr>
          ))}
        </tbody>
      </table>
      <dl className="mt-3 grid grid-cols-2 gap-x-6 gap-y-1 text-small">
        {tower.scales.map((scale) => (
          <div key={scale.key}>
            <dt className="inline font-semibold">{scale.name}: </dt>
            <dd className="inline">
              {scale.words.length > 0
                ? scale.words.map((word, rating) => `${rating} ${word}`).join(", ")
                : `0 to ${scale.most}, ${scale.look}`}
            </dd>
          </div>
        ))}
        <div>
          <dt className="inline font-semibold">Out: </dt>
          <dd className="inline">{tower.vetoes.map((veto) => veto.word).join(", ")}</dd>
        </div>
      </dl>
    </>
  );
}
