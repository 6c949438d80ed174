import { useState } from "react";
import type { Schemas } from "../../api/client";
import { VetoDialog } from "./TowerDialogs";
import { TowerGrid } from "./TowerGrid";
import { useTower } from "./useTower";

type Props = { run: Schemas["RunOut"]; tower: Schemas["TowerOut"]; band: number | null; onClose: () => void };

/** The bands of a foaming tower beside the entry: widths, means, and what heat has spoiled. */
export function FoamBands({ run, tower, band, onClose }: Props) {
  const [chosen, setChosen] = useState<number | null>(null);
  const hand = useTower(run, tower);
  const asked = band ?? chosen;
  return (
    <section
      aria-label="Bands"
      className="order-3 min-w-0 border-rule px-2 py-2 desk:order-none desk:overflow-y-auto desk:border-l"
      style={{ "--row": "44px" } as React.CSSProperties}
    >
      <TowerGrid tower={tower} onBand={setChosen} />
      <p className="mt-1 px-2 text-small text-ink-2">{tower.left} Press a band, or X, to take it out.</p>
      {asked !== null && (
        <VetoDialog
          tower={tower}
          band={asked}
          hand={hand}
          onClose={() => {
            setChosen(null);
            onClose();
          }}
        />
      )}
    </section>
  );
}
