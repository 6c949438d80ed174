const LABELS: Readonly<Record<string, string>> = {
  open_air: "The gear feeds filament into the open; the piece between two flush cuts is measured.",
  marked: "A mark on the filament comes nearer to the extruder; what is left to it is measured.",
  weighed: "The fed piece lies on a scale.",
  probe:
    "A hotend cut open, and where the tip of a probe can sit: in the melt, in the dry bore, on the block.",
};

/** The method as a drawing: filament from the left, the gear, and where the jaws or the pan go. */
export function MethodDrawing({ drawing }: { drawing: string }) {
  const label = LABELS[drawing];
  if (!label) return null;
  return (
    <svg
      viewBox="0 0 320 96"
      className="block h-24 w-full"
      role="img"
      aria-label={label}
      fill="none"
      stroke="currentColor"
      strokeWidth="2"
    >
      {drawing === "probe" ? (
        <ProbeSeats />
      ) : (
        <>
          <path d="M4 40H316" strokeWidth="5" className="text-ink-3" stroke="currentColor" />
          <Gear x={drawing === "marked" ? 232 : 92} />
        </>
      )}
      {drawing === "open_air" && <Span from={118} to={296} word="measure" cutFrom cutTo />}
      {drawing === "marked" && (
        <>
          <path d="M70 30v20" strokeWidth="4" stroke="var(--mark)" />
          <Span from={70} to={206} word="measure what is left" cutTo />
        </>
      )}
      {drawing === "weighed" && (
        <>
          <path d="M118 30v20M296 30v20" strokeWidth="1.5" />
          <path d="M160 84h110M176 70h78M215 70v14" strokeWidth="3" stroke="var(--mark)" />
          <text x="215" y="64" textAnchor="middle" fontSize="15" fill="currentColor" stroke="none">
            weigh
          </text>
        </>
      )}
    </svg>
  );
}

function Gear({ x }: { x: number }) {
  return (
    <g>
      <circle cx={x} cy={22} r={15} fill="var(--ground)" />
      <circle cx={x} cy={58} r={15} fill="var(--ground)" />
      <path d={`M${x - 8} 14a12 12 0 0 1 16 0m0 0l-1-6m1 6l-6-1`} strokeWidth="1.5" />
    </g>
  );
}

type SpanProps = { from: number; to: number; word: string; cutFrom?: boolean; cutTo?: boolean };

function Span({ from, to, word, cutFrom, cutTo }: SpanProps) {
  return (
    <g>
      {cutFrom && <path d={`M${from} 28v24`} strokeWidth="1.5" />}
      {cutTo && <path d={`M${to} 28v24`} strokeWidth="1.5" />}
      <path d={`M${from} 70H${to}m-8 -5l8 5l-8 5M${from + 8} 65l-8 5l8 5`} stroke="var(--mark)" />
      <text x={(from + to) / 2} y="90" textAnchor="middle" fontSize="15" fill="currentColor" stroke="none">
        {word}
      </text>
    </g>
  );
}

/** A hotend from the side, three times: the tip in the melt, in the dry bore, on the block. */
function ProbeSeats() {
  const seats = [
    { x: 56, tip: 52, word: "melt" },
    { x: 160, tip: 34, word: "dry bore" },
    { x: 264, tip: 44, word: "block" },
  ];
  return seats.map(({ x, tip, word }) => (
    <g key={word}>
      <path d={`M${x - 22} 24h44v26h-14l-5 12h-6l-5 -12h-14z`} />
      {word === "block" ? (
        <path d={`M${x + 50} 4q4 30 -26 ${tip - 8}`} stroke="var(--mark)" strokeWidth="4" />
      ) : (
        <path d={`M${x} 2V${tip}`} stroke="var(--mark)" strokeWidth="4" />
      )}
      <text x={x} y="90" textAnchor="middle" fontSize="15" fill="currentColor" stroke="none">
        {word}
      </text>
    </g>
  ));
}
