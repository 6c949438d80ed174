type Props = { rows: readonly (readonly number[])[] };

/** A mesh from above, the front below: each point with its height, above the mean in blue, below it in brown. */
export function MeshPicture({ rows }: Props) {
  const heights = rows.flat();
  const mean = heights.reduce((sum, height) => sum + height, 0) / heights.length;
  const most = Math.max(...heights.map((height) => Math.abs(height - mean)), 0.01);
  return (
    <table className="my-2 border-collapse text-small" aria-label="Heights from above, the front below">
      <tbody>
        {[...rows].reverse().map((row, down) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rows of a bed have nothing but their place
          <tr key={down}>
            {row.map((height, across) => (
              <td
                // biome-ignore lint/suspicious/noArrayIndexKey: points of a row have nothing but their place
                key={across}
                className="relative h-9 w-16 border border-sheet text-center"
              >
                <span
                  aria-hidden="true"
                  className={`absolute inset-0 ${height >= mean ? "bg-mark" : "bg-stale"}`}
                  style={{ opacity: (0.45 * Math.abs(height - mean)) / most }}
                />
                <span className="relative">{height.toFixed(2)}</span>
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
