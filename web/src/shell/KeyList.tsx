import { useState } from "react";
import { Link } from "react-router";
import { useWords } from "../api/queries";
import { store } from "../api/storage";
import { KeyHint } from "../instrument/KeyHint";
import { type KeyAction, keyCap, lettersOn } from "./keys";
import { Modal } from "./Modal";
import { chooseTheme, type Theme, themeChosen } from "./theme";

const EVERYWHERE = [
  { key: "A", label: "write an attempt down" },
  { key: "?", label: "this list" },
  { key: "M", label: "numbers on the tabs; then a number goes there" },
  { key: "Escape", label: "back" },
];

/** Every key that acts on this screen, and what this browser remembers. */
export function KeyList({ keys, onClose }: { keys: KeyAction[]; onClose: () => void }) {
  const [letters, setLetters] = useState(lettersOn);
  const [theme, setTheme] = useState(themeChosen);
  const words = useWords();
  const switchLetters = (on: boolean) => {
    store("ubrex.letters", on ? null : "off");
    setLetters(on);
  };
  const switchTheme = (chosen: Theme) => {
    chooseTheme(chosen);
    setTheme(chosen);
  };
  return (
    <Modal title="Keys on this screen" onClose={onClose} wide>
      <dl className="mb-4 grid gap-x-8 desk:grid-cols-2">
        {[...keys, ...EVERYWHERE.filter((row) => !keys.some((own) => own.key === row.key))].map((row) => (
          <div key={row.key} className="flex items-center gap-3 border-b border-rule py-1.5">
            <dt className="w-24 text-body font-semibold">
              <KeyHint>{keyCap(row.key)}</KeyHint>
              <span className="desk:hidden">{keyCap(row.key)}</span>
            </dt>
            <dd className="text-body">{row.label}</dd>
          </div>
        ))}
      </dl>
      <label className="flex min-h-11 items-center gap-3 text-body">
        <input
          type="checkbox"
          className="size-5"
          checked={letters}
          onChange={(event) => switchLetters(event.target.checked)}
        />
        Single letters act as keys
      </label>
      <fieldset className="mt-2 flex flex-wrap gap-2">
        <legend className="mb-1 text-body font-semibold">Light</legend>
        {(["system", "light", "dark"] as const).map((choice) => (
          <label key={choice} className="flex min-h-11 items-center gap-2 pr-4 text-body">
            <input
              type="radio"
              name="theme"
              className="size-5"
              checked={theme === choice}
              onChange={() => switchTheme(choice)}
            />
            {{ system: "As the system", light: "Light", dark: "Dark" }[choice]}
          </label>
        ))}
      </fieldset>
      <Link className="link flex min-h-11 items-center text-body" to="/schools" onClick={onClose}>
        Where people disagree, and whom you follow
      </Link>
      <details className="mt-2">
        <summary className="min-h-11 cursor-pointer text-body font-semibold">Words, explained</summary>
        <dl>
          {(words.data ?? []).map((row) => (
            <div key={row.key} className="border-b border-rule py-1.5">
              <dt className="text-body font-semibold">{row.name}</dt>
              <dd className="text-body">{row.text}</dd>
            </div>
          ))}
        </dl>
      </details>
      <button type="button" autoFocus className="button mt-4" onClick={onClose}>
        Done
      </button>
    </Modal>
  );
}
