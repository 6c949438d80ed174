type Props = { text: string; halfWidth: string; unit: string; className?: string };

/** A value with its ± and unit, which never part. */
export function Figure({ text, halfWidth, unit, className = "" }: Props) {
  return (
    <span className={`whitespace-nowrap ${className}`}>
      <span className="font-semibold">{text}</span>
      <span className="text-[0.8em] text-ink-2">
        {halfWidth && <> {halfWidth}</>} {unit}
      </span>
    </span>
  );
}
