import { useCopy } from "../../shell/useCopy";

/** A button that copies a text. */
export function CopyButton({ text }: { text: string }) {
  const { said, copy } = useCopy(text);
  const shown = said ?? "Copy";
  return (
    <button
      type="button"
      className="link min-h-11 px-1 text-body"
      onClick={copy}
      aria-label={`${shown} ${text}`}
    >
      {shown}
    </button>
  );
}
