import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import type { ReactNode } from "react";

type Props = { title: string; onClose: () => void; children: ReactNode; wide?: boolean };

/** A sheet laid over the page: a question, a choice, a list. Esc lays it away. */
export function Modal({ title, onClose, children, wide = false }: Props) {
  return (
    <Dialog open onClose={onClose} className="fixed inset-0 z-10">
      <div className="flex h-full items-start justify-center overflow-y-auto bg-ground/85 px-3 py-6 desk:pt-24">
        <DialogPanel className={`w-full border-2 border-ink bg-sheet ${wide ? "max-w-190" : "max-w-130"}`}>
          <DialogTitle className="border-b border-rule px-6 py-3 text-cell">{title}</DialogTitle>
          <div className="px-6 py-4">{children}</div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
