import type { Schemas } from "../api/client";

type Standing = Schemas["StepOut"]["standing"];
type Verdict = Schemas["ResultOut"]["verdict"];

const COLOUR: Record<Standing, string> = {
  fresh: "text-asked",
  ageing: "text-ageing",
  assumed: "text-ink-3",
  never: "text-ink-3",
  check: "text-ageing",
  re_enter: "text-stale",
  stale: "text-stale",
  hold: "text-stale",
  out: "text-out",
  not_on_machine: "text-ink-3",
};

/** Standing as brackets and a tick, 28 x 24; always beside its word. An unverified one has an open lower right corner. */
export function StandingGlyph({ standing, unverified }: { standing: Standing; unverified: boolean }) {
  const right = unverified ? "M19 3h5v10" : "M19 3h5v18h-5";
  return (
    <svg
      className={`glyph shrink-0 ${COLOUR[standing]}`}
      viewBox="0 0 28 24"
      width="28"
      height="24"
      aria-hidden="true"
    >
      {standing === "fresh" && (
        <>
          <path className="fill" d={unverified ? "M3 2H25V14H17V22H3z" : "M3 2H25V22H3z"} />
          <path className="cut" d="M14 6v12" />
        </>
      )}
      {(standing === "ageing" || standing === "check") && (
        <>
          <path className="fill" d={unverified ? "M4 12h14v10H4z" : "M4 12h20v10H4z"} />
          <path d={`M9 3H4v18h5${right}`} />
          <path d="M14 4v6" />
          <path className="cut" d="M14 14v5" />
        </>
      )}
      {standing === "assumed" && (
        <>
          <path className="dash" d={`M9 3H4v18h5${right}`} />
          <path d="M14 7v10" />
        </>
      )}
      {(standing === "stale" || standing === "re_enter" || standing === "hold") && (
        <>
          <path d={`M9 3H4v18h5${right}`} />
          <path d="M6 22 22 2" />
        </>
      )}
      {standing === "out" && (
        <>
          <path d="M8 3H4v18h4M14 3h4v18h-4" />
          <path d="M24 2v20" strokeWidth="4" />
        </>
      )}
      {standing === "not_on_machine" && <path d="M8 12h12" />}
      {standing === "never" && <path className="dash" d={`M9 3H4v18h5${right}`} />}
    </svg>
  );
}

const INSIDE: Record<Verdict, string> = {
  apply: "M14 6v12",
  try: "M9 13q2.5-5 5-1t5-1",
  keep: "M9.5 9.5h9M9.5 14.5h9",
  repeat: "M14 7v10M9 12h10",
  refuse: "M10.5 9q0-3 3.5-3t3.5 3q0 2-3.5 3.5v1.5M14 16.5v2",
};

/** A verdict as the strip's brackets with a sign between them; always beside its words. */
export function VerdictGlyph({ verdict }: { verdict: Verdict }) {
  return (
    <svg className="glyph shrink-0" viewBox="0 0 28 24" width="28" height="24" aria-hidden="true">
      <path d="M8 3H4v18h4M20 3h4v18h-4" />
      <path d={INSIDE[verdict]} />
    </svg>
  );
}

/** Where a value comes from: a rule for measured, a tag for label or family, a pencil for typed, an arrow for brought back. */
export function OriginGlyph({ origin }: { origin: Schemas["ProvenanceOut"]["origin"] }) {
  const drawn = {
    measured: "M1 11h14M3 11V7M6 11V9M9 11V7M12 11V9",
    typed: "M3 13l1-4 7-7 3 3-7 7z",
    label: "M2 8l5-5h7v10H7z",
    family: "M2 8l5-5h7v10H7z",
    copied: "M2 2h8v8H2zM6 10v4h8V6h-4",
    read_from_file: "M3 1h7l3 3v11H3z",
    rescaled: "M1 11h14M3 11V7M6 11V9M9 11V7M12 11V9M2 3h12M11 1l3 2-3 2",
    attempt: "M2 13h12M4 13V8h8v5M8 8V2M6 4l2-2 2 2",
    restored: "M6 4L2 8l4 4M2 8h9a3 3 0 0 1 0 6",
  }[origin];
  return (
    <svg
      className="inline-block shrink-0"
      viewBox="0 0 16 16"
      width="16"
      height="16"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.5"
      aria-hidden="true"
    >
      <path d={drawn} />
    </svg>
  );
}
