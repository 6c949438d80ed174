import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useState } from "react";
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

/** A choice among many: any words of its name find it, in any order; the arrows walk what is left. */
export function Finder<T extends string>(props: FinderProps<T>) {
  const { value, onChange, options, id, label, invalid, describedBy, autoFocus } = props;
  const [text, setText] = useState("");
  const found = matching(options, text);
  return (
    <Combobox
      immediate
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
          className="field"
          displayValue={(chosen: T | null) => options.find((row) => row.value === chosen)?.text ?? ""}
          onChange={(event) => setText(event.target.value)}
          onFocus={(event) => event.currentTarget.select()}
        />
        <ComboboxOptions className="absolute z-20 max-h-72 w-full min-w-56 overflow-y-auto border-2 border-ink bg-sheet empty:hidden">
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
