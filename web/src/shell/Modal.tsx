import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import type { ReactNode } from "react";
import { KeyHint } from "../instrument/KeyHint";
import { useBackCloses } from "./useBackCloses";

type Props = { title: string; onClose: () => void; children: ReactNode; wide?: boolean };

/** A sheet laid over the page: a question, a choice, a list. Esc, Close and the browser's Back lay it away. */
export function Modal({ title, onClose, children, wide = false }: Props) {
  useBackCloses(onClose);
  return (
    <Dialog open onClose={onClose} className="fixed inset-0 z-10">
      <div className="flex h-full items-start justify-center overflow-y-auto bg-ground/85 px-3 py-6 desk:pt-24">
        <DialogPanel
          className={`relative w-full border-2 border-ink bg-sheet ${wide ? "max-w-190" : "max-w-130"}`}
        >
          <DialogTitle className="border-b border-rule py-3 pr-28 pl-6 text-cell">{title}</DialogTitle>
          <div className="px-6 py-4">{children}</div>
          {/* Last in order, so that what the sheet is about has the focus first. */}
          <button
            type="button"
            onClick={onClose}
            className="absolute top-1 right-2 flex min-h-11 cursor-pointer items-center gap-2 px-3 text-body text-ink-2"
          >
            Close <KeyHint>Esc</KeyHint>
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
