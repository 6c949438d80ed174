import type { Schemas } from "../api/client";

type Piece = Schemas["PieceOut"];
type Place = Schemas["PlaceOut"];

const ROOM = 22;

type PlanProps = { piece: Piece; spots?: readonly Place[] | undefined; small?: boolean };

/** A test piece from above: hairlines for what is printed, jaws on the place that is measured next. */
export function PiecePlan({ piece, spots = [], small }: PlanProps) {
  const points = piece.outlines.flatMap((outline) => outline.points);
  if (points.length === 0) return null;
  const xs = points.map((point) => point.x);
  const ys = points.map((point) => point.y);
  const [left, right] = [Math.min(...xs), Math.max(...xs)];
  const [front, back] = [Math.min(...ys), Math.max(...ys)];
  const size = Math.max(right - left, back - front);
  const room = (ROOM / 100) * size;
  const unit = size / 100;
  // Seen from above: x to the right, y away from the person, so the drawing is turned over.
  const up = (y: number) => front + back - y;
  const several = new Set(spots.map((place) => place.group)).size > 1;
  const following = spots.find((place) => place.state === "next");
  return (
    <figure className="mt-2 min-w-0">
      <svg
        viewBox={`${left - room} ${front - room} ${right - left + 2 * room} ${back - front + 2 * room}`}
        className={`block w-full ${small ? "max-h-52" : "max-h-[46vh]"}`}
        role="img"
        aria-label={`${piece.name} from above, ${piece.size}${following ? `; measure ${following.name} next` : ""}`}
      >
        <g fill="none" strokeLinejoin="round" strokeLinecap="round">
          {piece.outlines.map((outline) => (
            <polyline
              key={JSON.stringify(outline.points)}
              points={outline.points.map((point) => `${point.x},${up(point.y)}`).join(" ")}
              className={outline.bold ? "stroke-ink" : "stroke-edge"}
              strokeWidth={outline.bold ? 0.9 * unit : 0.5 * unit}
            />
          ))}
        </g>
        {spots.map((place) => (
          <Spot
            key={`${place.group}${place.name}`}
            place={place}
            unit={unit}
            letters={(small ? 9.5 : 5.4) * unit * (several ? 0.62 : 1)}
            inside={several}
            mute={small === true && beside(place, following)}
            up={up}
          />
        ))}
      </svg>
      <figcaption className="text-small text-ink-2">From above, {piece.size}</figcaption>
    </figure>
  );
}

/** Whether a place lies on the wall that is measured next, where two labels would run into each other. */
function beside(place: Place, following: Place | undefined): boolean {
  if (following === undefined || place === following || isPatch(place)) return false;
  const { group, across_x, across_y } = following;
  return place.group === group && place.across_x === across_x && place.across_y === across_y;
}

/** Whether a place has no way across: it is measured through, not between jaws along it. */
function isPatch(place: Place): boolean {
  return place.across_x === 0 && place.across_y === 0;
}

type SpotProps = {
  place: Place;
  unit: number;
  letters: number;
  mute: boolean;
  inside: boolean;
  up: (y: number) => number;
};

function Spot({ place, unit, letters, mute, inside, up }: SpotProps) {
  const [ax, ay] = [place.across_x, place.across_y];
  const [x, y] = [place.x, up(place.y)];
  const patch = isPatch(place);
  // Outwards of the wall, on the turned-over drawing.
  const [ox, oy] = patch ? [0, 0] : [-ax, ay];
  // Of two boxes side by side the labels stand inside, where they cannot run into each other.
  const away = (4 * unit + letters) * (inside ? -1 : 1);
  const label = { x: x + ox * away, y: y + oy * away + letters * 0.35 };
  if (place.state === "later") return <circle cx={x} cy={y} r={0.7 * unit} className="fill-edge" />;
  const text = place.state === "taken" ? place.text : place.name;
  return (
    <g>
      {place.state === "next" && !patch && <Jaws x={x} y={y} ox={ox} oy={oy} unit={unit} />}
      {place.state === "next" && patch && (
        <circle cx={x} cy={y} r={6 * unit} fill="none" className="stroke-mark" strokeWidth={1.4 * unit} />
      )}
      {place.state !== "next" && !patch && (
        <circle
          cx={x}
          cy={y}
          r={1.3 * unit}
          className={place.state === "taken" ? "fill-ink" : "fill-none stroke-edge"}
          strokeWidth={0.5 * unit}
        />
      )}
      <text
        x={label.x}
        y={label.y}
        textAnchor="middle"
        fontSize={letters * (place.state === "next" ? 1.25 : 1)}
        className={
          place.state === "next" ? "fill-mark font-bold" : place.state === "taken" ? "fill-ink" : "fill-ink-3"
        }
        textDecoration={place.state === "skipped" ? "line-through" : undefined}
      >
        {mute ? "" : text}
      </text>
    </g>
  );
}

/** Two jaw tips that close across a wall. */
function Jaws({ x, y, ox, oy, unit }: { x: number; y: number; ox: number; oy: number; unit: number }) {
  const [tx, ty] = [oy, -ox];
  const bar = (away: number) => {
    const [cx, cy] = [x + ox * away * unit, y + oy * away * unit];
    return `M${cx - tx * 4 * unit} ${cy - ty * 4 * unit}L${cx + tx * 4 * unit} ${cy + ty * 4 * unit}`;
  };
  return (
    <path
      d={`${bar(1.8)}${bar(-1.8)}`}
      className="stroke-mark"
      strokeWidth={1.8 * unit}
      strokeLinecap="butt"
      fill="none"
    />
  );
}

/** A test piece from the side: how high, and how deep the jaws go; a tower with its bands. */
export function PieceSide({ piece }: { piece: Piece }) {
  const { width_mm: width, height_mm: height } = piece;
  if (height <= 2) return null;
  if (piece.bands.length > 0) return <Bands piece={piece} />;
  const room = width * 0.14;
  const unit = width / 100;
  return (
    <svg
      viewBox={`${-room} ${-2 * unit} ${width + 2 * room} ${height + 8 * unit}`}
      className="block max-h-24 w-full"
      role="img"
      aria-label={`From the side: ${height.toFixed(1)} mm high${piece.jaws ? ", jaws 3 mm below the rim" : ""}`}
    >
      <path
        d={`M${-room} ${height}H${width + room}`}
        className="stroke-ink"
        strokeWidth={0.6 * unit}
        fill="none"
      />
      <rect
        x={0}
        y={0}
        width={width}
        height={height}
        className="fill-well stroke-ink"
        strokeWidth={0.6 * unit}
      />
      {piece.jaws && (
        <>
          <path
            d={`M${width / 2 - 3 * unit} 3H${width / 2 + 3 * unit}M${width / 2} ${-1.5 * unit}V3`}
            className="stroke-mark"
            strokeWidth={1.4 * unit}
            fill="none"
          />
          <text x={width / 2 + 5 * unit} y={4.6} fontSize={4.6 * unit} className="fill-ink-2">
            3 mm
          </text>
        </>
      )}
    </svg>
  );
}

/** A tower from the front, as its lines build it, beside the value of each band; a note where the nozzle settles later. */
function Bands({ piece }: { piece: Piece }) {
  const parts = Array.from({ length: piece.front.length / 4 }, (_, index) =>
    piece.front.slice(4 * index, 4 * index + 4).map((edge) => edge / 100),
  );
  const [width, height] = [Math.max(...parts.map(([, right = 0]) => right)), piece.height_mm];
  const of = (mm: number) => `${(100 * mm) / height}%`;
  return (
    <figure className="mt-2 min-w-0">
      <div className="relative border-b-[3px] border-ink">
        <svg
          viewBox={`0 0 ${width} ${height}`}
          className="block fill-ink-3"
          style={{ width: `min(100% - 2.5rem, calc(46vh * ${width / height}))` }}
          role="img"
          aria-label={`${piece.name} from the front, ${piece.bands.length} bands`}
        >
          {parts.map(([left = 0, right = 0, bottom = 0, top = 0]) => (
            <rect
              key={`${left} ${bottom}`}
              x={left}
              y={height - top}
              width={right - left}
              height={top - bottom}
            />
          ))}
        </svg>
        <ol>
          {piece.bands.map((band) => (
            <li
              key={band.from_mm}
              className="absolute right-0 left-0 flex items-center justify-end border-t border-rule text-small leading-none font-bold"
              style={{ bottom: of(band.from_mm), height: of(band.to_mm - band.from_mm) }}
              title={`${band.from_mm.toFixed(1)} to ${band.to_mm.toFixed(1)} mm`}
            >
              {band.text}
            </li>
          ))}
        </ol>
      </div>
      <figcaption className="text-small text-ink-2">
        From the front
        {piece.bands
          .filter((band) => band.settled)
          .map((band) => `; ${band.text} ${band.settled}`)
          .join("")}
      </figcaption>
    </figure>
  );
}
