import { useState } from "react";

/** Copy a text. Plain HTTP has no clipboard: there the text is selected for the person's own copying. */
export function CopyButton({ text }: { text: string }) {
  const [said, setSaid] = useState("Copy");
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      setSaid("Copied");
    } catch {
      setSaid(copyBySelection(text) ? "Copied" : "Type it");
    }
  };
  return (
    <button
      type="button"
      className="link min-h-11 px-1 text-body"
      onClick={copy}
      aria-label={`${said} ${text}`}
    >
      {said}
    </button>
  );
}

function copyBySelection(text: string): boolean {
  const area = document.createElement("textarea");
  area.value = text;
  document.body.append(area);
  area.select();
  const done = document.execCommand("copy");
  area.remove();
  return done;
}
