import { Combobox, ComboboxButton, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useRef, useState } from "react";
import { matching } from "./matching";

export type FinderProps<T extends string> = {
  value: T;
  onChange: (value: T) => void;
  options: readonly { value: T; text: string }[];
  id?: string;
  label?: string;
  invalid?: boolean;
  describedBy?: string;
  autoFocus?: boolean | undefined;
};

/**
 * A choice among many: any words of its name find it, in any order; the arrows walk what is left. The list opens when something
 * is typed or clicked, not by passing through: it lies over the fields below.
 */
export function Finder<T extends string>(props: FinderProps<T>) {
  const { value, onChange, options, id, label, invalid, describedBy, autoFocus } = props;
  const [text, setText] = useState("");
  const found = matching(options, text);
  const all = useRef<HTMLButtonElement>(null);
  return (
    <Combobox
      value={value}
      onChange={(chosen) => chosen !== null && onChange(chosen)}
      onClose={() => setText("")}
    >
      <div className="relative">
        <ComboboxInput
          id={id}
          aria-label={label}
          aria-invalid={invalid}
          aria-describedby={describedBy}
          autoFocus={autoFocus}
          autoComplete="off"
          className="field pr-11"
          displayValue={(chosen: T | null) => options.find((row) => row.value === chosen)?.text ?? ""}
          onChange={(event) => setText(event.target.value)}
          onFocus={({ currentTarget }) => {
            // What stands there is put in after the focus: it is marked when it is there, so that typing takes its place.
            requestAnimationFrame(() => currentTarget.select());
          }}
          onClick={({ currentTarget }) => {
            if (currentTarget.ariaExpanded !== "true") all.current?.click();
          }}
        />
        <ComboboxButton
          ref={all}
          aria-label="Show all"
          className="absolute inset-y-0 right-0 flex w-11 items-center justify-center text-ink-2"
        >
          <svg viewBox="0 0 12 8" width="12" height="8" aria-hidden="true" fill="none">
            <path d="M1 1.5L6 6.5L11 1.5" className="stroke-ink" strokeWidth={1.5} />
          </svg>
        </ComboboxButton>
        <ComboboxOptions
          modal={false}
          className="absolute z-20 max-h-72 w-full min-w-56 overflow-y-auto border-2 border-ink bg-sheet empty:hidden"
        >
          {found.map((row) => (
            <ComboboxOption
              key={row.value}
              value={row.value}
              className="flex min-h-11 cursor-pointer items-center px-3 text-body data-focus:bg-well data-focus:outline-2 data-focus:-outline-offset-2 data-focus:outline-mark data-selected:font-semibold"
            >
              {row.text}
            </ComboboxOption>
          ))}
          {found.length === 0 && <p className="p-3 text-body">Nothing is called that.</p>}
        </ComboboxOptions>
      </div>
    </Combobox>
  );
}
