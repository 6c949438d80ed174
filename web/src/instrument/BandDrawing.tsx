import { memo } from "react";

type Props = {
  /** Ratings by what is rated; what is missing is drawn dashed. */
  ratings: Readonly<Record<string, number | null>>;
  /** What this tower has at all. */
  has: readonly string[];
  out?: boolean;
  className?: string;
};

const [WIDE, HIGH] = [132, 68];
const [LEFT, GAP, RIGHT] = [26, 58, 96];

/** One band of a tower from the front, drawn from its ratings: strings in the gap, sag of the bridge, edge of the wall. */
export const BandDrawing = memo(Drawing, sameDrawing);

/** A key press changes one band of many: the others are not drawn again. */
function sameDrawing(before: Props, after: Props): boolean {
  return (
    before.out === after.out &&
    before.className === after.className &&
    before.has.join() === after.has.join() &&
    after.has.every((key) => before.ratings[key] === after.ratings[key])
  );
}

function Drawing({ ratings, has, out = false, className = "" }: Props) {
  const at = (key: string) => ratings[key] ?? null;
  if (has.includes("slow_down") || has.includes("speed_up")) {
    return <FromAbove corner={at("slow_down")} start={at("speed_up")} out={out} className={className} />;
  }
  if (has.includes("lift") || has.includes("foot")) {
    return <OnPlate lift={at("lift")} foot={at("foot")} className={className} />;
  }
  if (has.includes("seam")) return <Seam rated={at("seam")} className={className} />;
  if (has.includes("runs")) return <Strand runs={at("runs")} className={className} />;
  if (has.length === 1 && has[0] === "break")
    return <Broken across={at("break") === 1} className={className} />;
  if (has.includes("fit")) return <PegAndHole goes={at("fit")} out={out} className={className} />;
  if (has.includes("release") || has.includes("underside")) {
    return (
      <RoofOnSupport release={at("release")} underside={at("underside")} out={out} className={className} />
    );
  }
  const shows = (key: string) => has.includes(key);
  const sag = at("bridging");
  const surface = at("surface");
  const strings = at("stringing") ?? at("strings") ?? at("marks");
  const detail = at("detail") ?? at("cooling");
  const lean = at("overhang");
  const blobs = at("blobs");
  const bond = at("bond");
  const gap = at("gap");
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      preserveAspectRatio="none"
      className={`block ${className}`}
      aria-hidden="true"
      fill="none"
    >
      <path
        d={`${wall(LEFT, surface)}V${HIGH}H${GAP}V0Z`}
        className={out ? "stroke-edge" : "fill-ground stroke-ink"}
        strokeWidth={1.5}
        strokeDasharray={out ? "4 3" : undefined}
      />
      <path
        d={`M${RIGHT} 0V${HIGH}H${RIGHT + 20}${shows("overhang") ? `V${HIGH * 0.55}${leaning(lean)}` : ""}V0Z`}
        className={out ? "stroke-edge" : "fill-ground stroke-ink"}
        strokeWidth={1.5}
        strokeDasharray={out ? "4 3" : undefined}
      />
      {shows("bridging") && (
        <path
          d={`M${GAP} 7Q${(GAP + RIGHT) / 2} ${sag === null ? 7 : 7 + (4 - sag) * 9} ${RIGHT} 7`}
          className="stroke-ink"
          strokeWidth={sag === 0 ? 1 : 2}
          strokeDasharray={sag === null ? "2 4" : sag === 0 ? "9 6" : undefined}
        />
      )}
      {strings !== null &&
        Array.from({ length: STRINGS[Math.min(strings, 4)] ?? 0 }, (_, index) => {
          const y = 20 + (index * 44) / Math.max(1, STRINGS[strings] ?? 1);
          return (
            <path
              key={y}
              d={`M${GAP} ${y}Q${(GAP + RIGHT) / 2} ${y + 5} ${RIGHT} ${y + (index % 3) - 1}`}
              className="stroke-ink-2"
              strokeWidth={strings < 2 ? 1.6 : 0.8}
            />
          );
        })}
      {blobs !== null &&
        Array.from({ length: (4 - blobs) * 2 }, (_, index) => 12 + index * 7).map((y) => (
          <circle key={y} cx={GAP - 1} cy={y} r={blobs === 0 ? 4 : 2.2} className="fill-ink-2" />
        ))}
      {(shows("detail") || shows("cooling")) && (
        <path
          d={tip(detail)}
          className="fill-ground stroke-ink"
          strokeWidth={1.5}
          strokeDasharray={detail === null ? "2 3" : undefined}
        />
      )}
      {gap !== null && gap < 4 && (
        <path
          d={`M${RIGHT} ${HIGH / 2 - (4 - gap) * 5}V${HIGH / 2 + (4 - gap) * 5}`}
          className="stroke-well"
          strokeWidth={4}
        />
      )}
      {bond !== null && bond < 3 && (
        <path d={crack(3 - bond)} className="stroke-out" strokeWidth={bond === 0 ? 3 : 2} />
      )}
    </svg>
  );
}

const STRINGS = [16, 9, 4, 2, 0];

/** The left edge of a band, rougher the worse its surface. */
function wall(x: number, surface: number | null): string {
  const rough = surface === null ? 0 : (4 - surface) * 1.1;
  const steps = 9;
  const points = Array.from({ length: steps + 1 }, (_, index) => {
    const off = index % 2 === 0 ? 0 : rough;
    return `${index === 0 ? "M" : "L"}${x - off} ${(HIGH * index) / steps}`;
  });
  return points.join("");
}

/** The right side, which leans out above; curled where overhangs failed. */
function leaning(lean: number | null): string {
  if (lean === null) return `L${RIGHT + 32} 12`;
  const ragged = 4 - lean;
  return [0, 1, 2, 3, 4]
    .map((step) => {
      const off = step % 2 === 1 ? ragged * 1.5 : 0;
      return `L${RIGHT + 20 + step * 3 - off} ${HIGH * 0.55 - step * 6.4 + off}`;
    })
    .join("");
}

/** The thin point at the left foot. */
function tip(detail: number | null): string {
  const long = detail === null ? 16 : [0, 5, 9, 13, 17][detail];
  const blunt = detail === null ? 0 : [0, 6, 4, 1.5, 0][detail];
  const x = LEFT - (long ?? 0);
  return `M${LEFT} ${HIGH - 26}L${x} ${HIGH - 16 - (blunt ?? 0)}V${HIGH - 16 + (blunt ?? 0)}L${LEFT} ${HIGH - 6}`;
}

/** A crack along the lower border of the band. */
function crack(steps: number): string {
  const high = 2 + steps;
  return [LEFT, RIGHT]
    .map((x) => {
      const width = x === LEFT ? GAP - LEFT : 20;
      return Array.from(
        { length: 9 },
        (_, index) => `${index === 0 ? "M" : "L"}${x + (width * index) / 8} ${HIGH - 1 - (index % 2) * high}`,
      ).join("");
    })
    .join("");
}

/** What 2 is on a scale whose middle is right. */
const RIGHT_RATING = 2;

type FromAboveProps = { corner: number | null; start: number | null; out: boolean; className: string };

/** A line from above: slow, then fast, then round a corner; fat and thin as it was rated. */
function FromAbove({ corner, start, out, className }: FromAboveProps) {
  const bulge = corner === null ? 0 : corner - RIGHT_RATING;
  const thin = start === null ? 0 : start - RIGHT_RATING;
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className={`block ${className}`} aria-hidden="true" fill="none">
      <g className={out ? "stroke-edge" : "stroke-ink-3"} strokeDasharray={out ? "4 3" : undefined}>
        <path d="M6 46H52" strokeWidth={10} />
        <path d="M66 46H104" strokeWidth={10} />
        <path d="M104 51V10" strokeWidth={10} strokeDasharray={bulge < -1 ? "12 6" : undefined} />
        <path
          d="M52 46H66"
          strokeWidth={Math.max(1, 10 - 4 * thin)}
          strokeDasharray={thin > 1 ? "3 4" : undefined}
        />
      </g>
      {bulge > 0 && <circle cx={105} cy={47} r={5 + 3 * bulge} className="fill-ink-2" />}
      {bulge < 0 && <path d="M98 54l12 -12v12z" className="fill-sheet stroke-ink" strokeWidth={-bulge} />}
      {corner === null && start === null && (
        <path d="M6 46H104V10" className="stroke-ink" strokeWidth={1} strokeDasharray="3 4" />
      )}
    </svg>
  );
}

type RoofProps = { release: number | null; underside: number | null; out: boolean; className: string };

/** A roof from the side with what hangs from it, and the support as far below as it came off. */
function RoofOnSupport({ release, underside, out, className }: RoofProps) {
  const fallen = release === null ? 2 : ([0, 4, 12, 22][release] ?? 0);
  const hangs = underside === null ? 0 : ([12, 8, 4, 1.5, 0][underside] ?? 0);
  const waves = Array.from({ length: 7 }, () => `q-6 ${2 * hangs} -12 0`).join("");
  const top = 24 + fallen;
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className={`block ${className}`} aria-hidden="true" fill="none">
      <path
        d={`M24 8H108V20${waves}z`}
        className={out ? "stroke-edge" : "fill-ground stroke-ink"}
        strokeWidth={1.5}
        strokeDasharray={underside === null ? "3 3" : undefined}
      />
      <path
        d={`M30 ${top}v${HIGH}M48 ${top}v${HIGH}M66 ${top}v${HIGH}M84 ${top}v${HIGH}M102 ${top}v${HIGH}`}
        className={out ? "stroke-edge" : "stroke-mark"}
        strokeWidth={2}
        strokeDasharray={release === null ? "3 3" : undefined}
      />
    </svg>
  );
}

type PegProps = { goes: number | null; out: boolean; className: string };

/** A peg above its hole, as far in as it went. */
function PegAndHole({ goes, out, className }: PegProps) {
  const depth = goes === null ? 0 : ([4, 12, 22, 30][goes] ?? 0);
  const slack = goes === 3 ? 5 : 1;
  const style = out ? "stroke-edge" : "fill-ground stroke-ink";
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className={`block ${className}`} aria-hidden="true" fill="none">
      <path d={`M14 ${HIGH - 4}V30H${54 - slack}V${HIGH - 4}z`} className={style} strokeWidth={1.5} />
      <path d={`M${78 + slack} ${HIGH - 4}V30H118V${HIGH - 4}z`} className={style} strokeWidth={1.5} />
      <path
        d={`M54 ${depth}h24v32h-24z`}
        className={out ? "stroke-edge" : "fill-well stroke-mark"}
        strokeWidth={2}
        strokeDasharray={goes === null ? "3 3" : undefined}
      />
    </svg>
  );
}

/** A nozzle from the side, and how much comes out by a push: nothing, a bent stub, a straight strand. */
function Strand({ runs, className }: { runs: number | null; className: string }) {
  const strands = ["", "M66 24c0 6 5 8 10 6", "M66 24V56"];
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className={`block ${className}`} aria-hidden="true" fill="none">
      <path d="M48 2h36v8l-14 12h-8l-14 -12z" className="fill-ground stroke-ink" strokeWidth={1.5} />
      <path
        d={runs === null ? "" : strands[runs]}
        className="stroke-mark"
        strokeWidth={4}
        strokeLinecap="round"
      />
    </svg>
  );
}

/** Two halves of a tab from the side, layer upon layer: broken along one of them, or across several. */
function Broken({ across, className }: { across: boolean; className: string }) {
  const edge = across ? "h14v-12h10v18h12v-10h14v16h16v-12h18" : "h84";
  const layers = [8, 16, 24, 44, 52, 60].map((y) => `M24 ${y}h84`).join("");
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className={`block ${className}`} aria-hidden="true" fill="none">
      <path d={layers} className="stroke-edge" strokeWidth={1.5} />
      <path d={`M24 2v32${edge}V2z`} className="stroke-ink" strokeWidth={1.5} />
      <path d={`M24 66V34${edge}V66z`} className="stroke-ink" strokeWidth={1.5} />
      <path d={`M24 34${edge}`} className="stroke-out" strokeWidth={4} />
    </svg>
  );
}

type PlateProps = { lift: number | null; foot: number | null; className: string };

/** The foot of a part on its plate: how far its corner stands up, how far its first layers stand out. */
function OnPlate({ lift, foot, className }: PlateProps) {
  const up = lift === null ? 0 : ([26, 16, 9, 3, 0][lift] ?? 0);
  const out = foot === null ? 0 : ([18, 11, 6, 2.5, 0][foot] ?? 0);
  const base = HIGH - 10;
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className={`block ${className}`} aria-hidden="true" fill="none">
      <path d={`M2 ${base}H${WIDE - 2}`} className="stroke-ink" strokeWidth={3} />
      <path
        d={`M24 14H96V${base - 8}L${96 + out} ${base - 2 - up}Q60 ${base - 2} ${24 - out} ${base - 2}L24 ${base - 8}Z`}
        className="fill-ground stroke-ink"
        strokeWidth={1.5}
      />
      {up > 0 && <path d={`M${100 + out} ${base - 2}v${-up}`} className="stroke-mark" strokeWidth={2.5} />}
      {out > 0 && (
        <path
          d={`M96 ${base - 14}l${out} 10M24 ${base - 14}l${-out} 10`}
          className="stroke-mark"
          strokeWidth={2}
        />
      )}
    </svg>
  );
}

/** A wall from the front, and the seam in it: gone, a hairline, a groove, a gap one sees through. */
function Seam({ rated, className }: { rated: number | null; className: string }) {
  const wide = rated === null ? 0 : ([14, 8, 4, 1.5, 0][rated] ?? 0);
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className={`block ${className}`} aria-hidden="true" fill="none">
      <path d={`M30 2h72v${HIGH - 4}h-72z`} className="fill-ground stroke-ink" strokeWidth={1.5} />
      {wide > 0 && <path d={`M66 2v${HIGH - 4}`} className="stroke-mark" strokeWidth={wide} />}
    </svg>
  );
}
