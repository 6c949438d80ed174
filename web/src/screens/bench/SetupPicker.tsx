import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Modal } from "../../shell/Modal";

type Props = {
  setups: readonly Schemas["SetupChoiceOut"][];
  current: number;
  onChosen: (id: number) => void;
  onClose: () => void;
};

/** Look a setup up by any part of its name and put it on the bench. */
export function SetupPicker({ setups, current, onChosen, onClose }: Props) {
  const [text, setText] = useState("");
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = setups.filter((row) => words.every((word) => row.title.toLowerCase().includes(word)));
  return (
    <Modal title="Put on the bench" onClose={onClose} wide>
      <Combobox value={current} onChange={(id) => id !== null && onChosen(id)}>
        <ComboboxInput
          autoFocus
          aria-label="Find a setup"
          className="field"
          placeholder="machine, nozzle or filament"
          onChange={(event) => setText(event.target.value)}
        />
        <ComboboxOptions static className="mt-2 max-h-80 overflow-y-auto">
          {found.map((row) => (
            <ComboboxOption
              key={row.id}
              value={row.id}
              className="flex min-h-12 cursor-pointer items-center border-b border-rule px-3 text-name data-focus:bg-well data-focus:outline-2 data-focus:-outline-offset-2 data-focus:outline-mark"
            >
              {row.title}
              {row.id === current && <span className="ml-auto pl-3 text-small text-ink-2">on the bench</span>}
            </ComboboxOption>
          ))}
        </ComboboxOptions>
        {found.length === 0 && <p className="p-3 text-reason">No setup is called that.</p>}
      </Combobox>
    </Modal>
  );
}
