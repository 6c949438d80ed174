import { type RefObject, useEffect } from "react";
import { isText } from "../shell/keys";

type Props = {
  value: string;
  onChange: (value: string) => void;
  onEnter: () => void;
  label: string;
  unit: string;
  error: string | undefined;
  errorId: string;
  ownPad: boolean;
  /** A verdict stands below: on a low screen it needs some of the height. */
  judged: boolean;
  fieldRef: RefObject<HTMLInputElement | null>;
};

/** Characters a reading may be typed with: digits, both decimal marks, a sign, and unit text behind a digit. */
export function allowed(text: string): string {
  const kept = text.replace(/[^\d.,\-−a-z" ]/gi, "");
  return /\d/.test(kept) ? kept.slice(0, 12) : kept.replace(/[a-z" ]/gi, "");
}

/** The large field a reading is typed into. While it is empty, letters are the screen's keys, not text. */
export function EntryField(props: Props) {
  const { value, onChange, onEnter, label, unit, error, errorId, ownPad, judged, fieldRef } = props;
  const height = judged
    ? "desk:[@media(max-height:880px)]:h-22 desk:[@media(max-height:880px)]:text-[88px]"
    : "";
  useEffect(() => {
    if (error) fieldRef.current?.select();
    fieldRef.current?.focus();
  }, [error, fieldRef]);
  useEffect(() => {
    // A number typed anywhere on the screen is a reading: the field has it before the key is written.
    const onKey = (event: KeyboardEvent) => {
      const loose = !event.ctrlKey && !event.metaKey && !event.altKey && /^[\d.,−-]$/.test(event.key);
      if (!loose || document.querySelector('[role="dialog"]') || isText(event.target, event.key)) return;
      fieldRef.current?.focus();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [fieldRef]);
  return (
    <div
      className={`flex min-w-0 items-baseline gap-2 border-3 bg-well px-4 ${error ? "border-out" : "border-mark"}`}
    >
      <input
        ref={fieldRef}
        data-entry
        value={value}
        onChange={(event) => onChange(allowed(event.target.value))}
        onKeyDown={(event) => {
          if (event.key === "Enter") {
            event.preventDefault();
            onEnter();
          }
        }}
        aria-label={label}
        aria-invalid={error !== undefined}
        aria-describedby={errorId}
        inputMode={ownPad ? "none" : "decimal"}
        autoComplete="off"
        className={`w-full min-w-0 bg-transparent text-entry-phone leading-none font-semibold outline-none max-desk:h-18 desk:h-36 desk:text-[clamp(80px,10.5vw,150px)] ${height}`}
      />
      <span className="text-name text-ink-2 desk:text-step">{unit}</span>
    </div>
  );
}

type PadProps = { onPress: (key: string) => void; onTake: () => void; takeText: string };

/** Number pad for a hand that holds a calliper in the other; Take lies bottom right, under the thumb. */
export function NumberPad({ onPress, onTake, takeText }: PadProps) {
  const cell = "min-h-13 cursor-pointer border-r border-b border-rule text-verdict font-semibold";
  return (
    <div className="grid grid-cols-4 border-t border-rule desk:hidden">
      {["7", "8", "9", "⌫", "4", "5", "6", ",", "1", "2", "3", ".", "0"].map((key) => (
        <button
          key={key}
          type="button"
          aria-label={PAD_NAMES[key] ?? key}
          onClick={() => onPress(key)}
          className={`${cell} bg-sheet ${key === "0" ? "col-span-2" : ""}`}
        >
          {key}
        </button>
      ))}
      <button type="button" onClick={onTake} className={`${cell} col-span-2 bg-press text-on-press`}>
        {takeText}
      </button>
    </div>
  );
}

const PAD_NAMES: Record<string, string> = { "⌫": "Delete last", ",": "Comma", ".": "Point" };
