import type { ReactNode } from "react";
import type { Problem } from "../api/client";
import { KeyHint } from "../instrument/KeyHint";

type Props = {
  label: string;
  keyText?: string;
  pending: boolean;
  error: Problem | null;
  onClose: () => void;
  children?: ReactNode;
};

/** The end of a dialog's form: what is wrong with the whole of it, the way on by Enter, the way out by Esc. */
export function FormFoot({ label, keyText = "Enter", pending, error, onClose, children }: Props) {
  return (
    <>
      {error && error.fields.length === 0 && (
        <p role="alert" className="mt-3 text-care font-semibold text-out">
          {error.detail}
        </p>
      )}
      <div className="mt-4 flex flex-wrap gap-3">
        <button type="submit" className="button button-main" disabled={pending}>
          {label} {keyText && <KeyHint onBlue>{keyText}</KeyHint>}
        </button>
        {children}
        <button type="button" className="button" onClick={onClose}>
          Not now <KeyHint>Esc</KeyHint>
        </button>
      </div>
    </>
  );
}
