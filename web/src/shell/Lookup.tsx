import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { type ReactNode, useState } from "react";
import { matching } from "./matching";

type Option<T> = { value: T; text: string; beside?: string };

type Props<T> = {
  label: string;
  hint: string;
  none: ReactNode;
  value: T | null;
  options: readonly Option<T>[];
  onChosen: (value: T) => void;
  autoFocus?: boolean;
};

/** A field that finds one of many by any words of its name, in any order; the list below it can also be walked. */
export function Lookup<T extends string | number>({
  label,
  hint,
  none,
  value,
  options,
  onChosen,
  autoFocus = true,
}: Props<T>) {
  const [text, setText] = useState("");
  const found = matching(options, text);
  return (
    <Combobox value={value} onChange={(chosen) => chosen !== null && onChosen(chosen)}>
      <ComboboxInput
        autoFocus={autoFocus}
        aria-label={label}
        className="field"
        placeholder={hint}
        autoComplete="off"
        onChange={(event) => setText(event.target.value)}
      />
      <ComboboxOptions static modal={false} className="mt-2 max-h-72 overflow-y-auto border-t border-rule">
        {found.map((row) => (
          <ComboboxOption
            key={row.value}
            value={row.value}
            className="flex min-h-11 cursor-pointer items-center border-b border-rule px-3 text-name data-focus:bg-well data-focus:outline-2 data-focus:-outline-offset-2 data-focus:outline-mark"
          >
            {row.text}
            {row.beside && <span className="ml-auto pl-3 text-small text-ink-2">{row.beside}</span>}
          </ComboboxOption>
        ))}
      </ComboboxOptions>
      {found.length === 0 && <p className="p-3 text-reason">{none}</p>}
    </Combobox>
  );
}
