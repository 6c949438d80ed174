import type { ReactNode } from "react";

/** Small drawings of what a word of the trade is about: ink for what is there, the mark for what is wrong or meant. */
export function WordDrawing({ drawing }: { drawing: string }) {
  const drawn = DRAWINGS[drawing];
  if (!drawn) return null;
  return (
    <svg
      viewBox="0 0 360 130"
      className="mt-3 block w-full max-w-120"
      role="img"
      aria-label={drawn.label}
      fill="none"
      stroke="currentColor"
      strokeWidth="2"
    >
      {drawn.picture}
    </svg>
  );
}

type WordsProps = { x: number; y?: number; children: string; wrong?: boolean };

function Said({ x, y = 124, children, wrong }: WordsProps) {
  return (
    <text
      x={x}
      y={y}
      textAnchor="middle"
      fontSize="14"
      stroke="none"
      fill={wrong ? "var(--mark)" : "currentColor"}
    >
      {children}
    </text>
  );
}

/** A nozzle from the side, its tip at a height above the bed. */
function Nozzle({ x, tip }: { x: number; tip: number }) {
  return (
    <path
      d={`M${x - 26} ${tip - 34}h52v12l-16 22h-20l-16 -22z`}
      fill="var(--ground)"
      strokeLinejoin="round"
    />
  );
}

/** Three lines beside each other on the bed, as round or as flat as they were pressed. */
function Lines({ x, rise, wide }: { x: number; rise: number; wide: number }) {
  return [-1, 0, 1].map((place) => (
    <ellipse key={place} cx={x + place * 26} cy={92 - rise} rx={wide} ry={rise} fill="var(--well)" />
  ));
}

function Hotend({ x, end }: { x: number; end: number }) {
  return (
    <>
      <path d={`M${x - 30} 10h60v22h-18v14h18v34h-14l-10 20h-12l-10 -20h-14v-34h18v-14h-18z`} />
      <path
        d={`M${x - 6} 2v${end - 2}M${x + 6} 2v${end - 2}M${x - 6} ${end}h12`}
        stroke="var(--mark)"
        strokeWidth="3"
      />
    </>
  );
}

const DRAWINGS: Readonly<Record<string, { label: string; picture: ReactNode }>> = {
  first_lines: {
    label:
      "Too high: round lines that lie apart. Right: flat lines that touch. Too low: ridges pushed up between them.",
    picture: (
      <>
        <path d="M4 92H356" strokeWidth="3" />
        {[62, 180, 298].map((x, place) => (
          <Nozzle key={x} x={x} tip={[52, 66, 74][place] ?? 66} />
        ))}
        <Lines x={62} rise={9} wide={9} />
        <Lines x={180} rise={7} wide={13} />
        <Lines x={298} rise={4} wide={13} />
        <path d="M282 92l3 -15l3 15M308 92l3 -15l3 15" stroke="var(--mark)" />
        <Said x={62} wrong>
          too high
        </Said>
        <Said x={180}>right</Said>
        <Said x={298} wrong>
          too low
        </Said>
      </>
    ),
  },
  liner: {
    label:
      "Two hotends cut open: in one the tube ends in the cold part, in the other it reaches down to the nozzle.",
    picture: (
      <>
        <Hotend x={90} end={34} />
        <Hotend x={260} end={84} />
        <path d="M4 46h40M136 46h78M306 46h50" strokeDasharray="5 5" strokeWidth="1" />
        <Said x={180} y={42}>
          hot below
        </Said>
        <Said x={90}>ends above</Said>
        <Said x={260} wrong>
          down to the nozzle
        </Said>
      </>
    ),
  },
  feed: {
    label: "A gear feeds filament; the length that was told and the length that came differ.",
    picture: (
      <>
        <path d="M4 44H330" strokeWidth="5" />
        <circle cx="70" cy="26" r="15" fill="var(--ground)" />
        <circle cx="70" cy="62" r="15" fill="var(--ground)" />
        <path d="M92 84H350m-8 -5l8 5l-8 5" />
        <path d="M92 106H330m-8 -5l8 5l-8 5" stroke="var(--mark)" />
        <Said x={210} y={80}>
          told
        </Said>
        <Said x={210} y={124} wrong>
          came
        </Said>
      </>
    ),
  },
  walls: {
    label:
      "A wall of one line seen from above: fed too little it is thin, right it is as wide as meant, too much it is fat.",
    picture: (
      <>
        {[62, 180, 298].map((x, place) => (
          <path
            key={x}
            d={`M${x - 40} 52H${x + 40}`}
            strokeWidth={[14, 24, 36][place]}
            stroke="var(--ink-3)"
          />
        ))}
        <path d="M10 40H350M10 64H350" strokeDasharray="5 5" strokeWidth="1.5" />
        <Said x={62} wrong>
          too little
        </Said>
        <Said x={180}>as meant</Said>
        <Said x={298} wrong>
          too much
        </Said>
      </>
    ),
  },
  corners: {
    label:
      "A corner from above: without compensation it bulges, with too much of it the corner is rounded and thin.",
    picture: (
      <>
        <path d="M20 90H70V24" strokeWidth="12" strokeLinejoin="miter" />
        <circle cx="72" cy="90" r="13" fill="var(--mark)" stroke="none" />
        <path d="M140 90H190V24" strokeWidth="12" />
        <path d="M260 90H292Q312 90 312 70V24" strokeWidth="12" />
        <path d="M296 92l14 -14" strokeWidth="4" stroke="var(--ground)" />
        <Said x={50} wrong>
          too little
        </Said>
        <Said x={170}>right</Said>
        <Said x={290} wrong>
          too much
        </Said>
      </>
    ),
  },
  strings: {
    label: "Two posts: filament not taken back far enough leaves strings between them.",
    picture: (
      <>
        {[40, 130, 220, 310].map((x) => (
          <rect key={x} x={x - 14} y="16" width="28" height="88" fill="var(--well)" />
        ))}
        <path d="M54 34q31 10 62 0M54 62q31 8 62 -2M54 84q31 6 62 2" stroke="var(--mark)" strokeWidth="1.2" />
        <Said x={85} wrong>
          too little
        </Said>
        <Said x={265}>enough</Said>
      </>
    ),
  },
  feed_paths: {
    label:
      "Direct: the gear sits on the hotend. Through a tube: the gear sits on the frame, half a metre away.",
    picture: (
      <>
        <circle cx="70" cy="26" r="13" />
        <circle cx="100" cy="26" r="13" />
        <path d="M85 4V60M66 60h38v22l-14 18h-10l-14 -18z" />
        <circle cx="196" cy="70" r="13" />
        <circle cx="226" cy="70" r="13" />
        <path d="M211 92V56Q211 8 262 8T312 60M293 60h38v22l-14 18h-10l-14 -18z" />
        <Said x={85}>direct</Said>
        <Said x={260}>through a tube</Said>
      </>
    ),
  },
  interval: {
    label:
      "A scale with the number in the middle and a bracket from number minus to number plus: the truth lies inside.",
    picture: (
      <>
        <path d="M20 84H340" />
        {[40, 80, 120, 160, 200, 240, 280, 320].map((x) => (
          <path key={x} d={`M${x} 84v10`} />
        ))}
        <path d="M180 34V84" strokeWidth="3" />
        <path d="M96 48V66M264 48V66M96 57H264" stroke="var(--mark)" strokeWidth="3" />
        <Said x={180} y={26}>
          number
        </Said>
        <Said x={138} y={48}>
          −
        </Said>
        <Said x={222} y={48}>
          +
        </Said>
        <Said x={180} y={118}>
          the truth lies in here, 95 times of 100
        </Said>
      </>
    ),
  },
};
