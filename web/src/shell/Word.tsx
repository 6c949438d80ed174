import { type ReactNode, useState } from "react";
import { useWords } from "../api/queries";
import { WordDrawing } from "../instrument/WordDrawing";
import { Modal } from "./Modal";

type Props = { of: string; children: ReactNode; aside?: boolean };

/**
 * A word that can be pressed for two sentences and a drawing; one that nobody explains is plain text. `aside`: Tab goes by it,
 * so that a form takes no more keys; the same words are in the list of keys.
 */
export function Word({ of, children, aside = false }: Props) {
  const words = useWords();
  const [open, setOpen] = useState(false);
  const said = words.data?.find((row) => row.key === of);
  if (!said) return children;
  return (
    <>
      <button
        type="button"
        tabIndex={aside ? -1 : undefined}
        className="cursor-pointer underline decoration-dotted decoration-1 underline-offset-4"
        title={`${said.name}: what it means`}
        onClick={() => setOpen(true)}
      >
        {children}
      </button>
      {open && (
        <Modal title={said.name} onClose={() => setOpen(false)}>
          <p className="text-reason">{said.text}</p>
          <WordDrawing drawing={said.drawing} />
        </Modal>
      )}
    </>
  );
}
