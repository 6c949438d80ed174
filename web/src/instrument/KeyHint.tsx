/** A key cap. */
export function KeyHint({ children, onBlue = false }: { children: string; onBlue?: boolean }) {
  return (
    <kbd
      className={`hidden rounded-control border px-1.5 font-sans text-floor leading-5 font-semibold desk:inline-block
      ${onBlue ? "border-on-press" : "border-edge"}`}
    >
      {children}
    </kbd>
  );
}
