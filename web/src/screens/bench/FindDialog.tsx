import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useDeferredValue, useState } from "react";
import type { Schemas } from "../../api/client";
import { useFound, useSetups } from "../../api/queries";
import { Modal } from "../../shell/Modal";
import { matching } from "../../shell/matching";

type Found = Schemas["FoundOut"];
type Props = { current: number; onChosen: (found: Found) => void; onClose: () => void };

/** Anything by any words of it: setups at once, and what was set, run, printed, noted, changed and wound on spools. */
export function FindDialog({ current, onChosen, onClose }: Props) {
  const setups = useSetups();
  const [text, setText] = useState("");
  const found = useFound(useDeferredValue(text));
  const here = matching(
    (setups.data ?? []).map(({ id, title }) => ({ id, text: title })),
    text,
  ).map(
    ({ id, text: title }): Found => ({
      what: "Setup",
      title,
      detail: id === current ? "on the bench" : "",
      to: "/",
      setup_id: id,
    }),
  );
  const others = text.trim().length > 1 ? (found.data ?? []).filter((row) => row.what !== "Setup") : [];
  const rows = [...here, ...others];
  return (
    <Modal title="Find, or put on the bench" onClose={onClose} wide>
      <Combobox<Found | null> value={null} onChange={(chosen) => chosen && onChosen(chosen)}>
        <ComboboxInput
          autoFocus
          aria-label="Find a setup, value, run, print, note, change or spool"
          className="field"
          placeholder="any words: a machine, a filament, a part, what was noted"
          autoComplete="off"
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            // Typed fast, nothing is marked yet: Enter means the first of what is left.
            const [first] = rows;
            if (event.key !== "Enter" || event.currentTarget.getAttribute("aria-activedescendant") || !first)
              return;
            event.preventDefault();
            onChosen(first);
          }}
        />
        <ComboboxOptions static modal={false} className="mt-2 max-h-96 overflow-y-auto border-t border-rule">
          {rows.map((row, index) => (
            <ComboboxOption
              // biome-ignore lint/suspicious/noArrayIndexKey: two notes may be alike, and rows are never moved.
              key={`${row.what}${row.title}${index}`}
              value={row}
              className="grid min-h-11 cursor-pointer grid-cols-[5rem_minmax(0,1fr)] items-baseline gap-x-3 border-b border-rule px-3 py-2 data-focus:bg-well data-focus:outline-2 data-focus:-outline-offset-2 data-focus:outline-mark"
            >
              <span className="text-small text-ink-2">{row.what}</span>
              <span className="text-name">
                {row.title} {row.detail && <span className="text-small text-ink-2">{row.detail}</span>}
              </span>
            </ComboboxOption>
          ))}
        </ComboboxOptions>
        {rows.length === 0 && !setups.isPending && (
          <p className="p-3 text-reason">
            Nothing holds all of these words. A new setup comes from 1 to 4 on the bench.
          </p>
        )}
      </Combobox>
    </Modal>
  );
}
