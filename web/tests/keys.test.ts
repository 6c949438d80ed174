import { afterEach, expect, test, vi } from "vitest";
import { readStored, setupOnBench, store } from "../src/api/storage";
import { keyName, lettersOn } from "../src/shell/keys";

const plain = { shiftKey: false, ctrlKey: false, metaKey: false };

/** A browser that keeps texts, or one where storage is switched off. */
function browser(kept: Map<string, string> | null) {
  const refuse = () => {
    throw new DOMException("denied", "SecurityError");
  };
  vi.stubGlobal("localStorage", {
    getItem: kept ? (key: string) => kept.get(key) ?? null : refuse,
    setItem: kept ? (key: string, value: string) => kept.set(key, value) : refuse,
    removeItem: kept ? (key: string) => kept.delete(key) : refuse,
  });
}

afterEach(() => vi.unstubAllGlobals());

test.each([
  [{ ...plain, key: "a" }, "A"],
  [{ ...plain, key: "A", shiftKey: true }, "A"],
  [{ ...plain, key: "Enter" }, "Enter"],
  [{ ...plain, key: "ArrowLeft", shiftKey: true }, "Shift+ArrowLeft"],
  [{ ...plain, key: "z", ctrlKey: true }, "Ctrl+Z"],
  [{ ...plain, key: "z", metaKey: true }, "Ctrl+Z"],
  [{ ...plain, key: "?", shiftKey: true }, "?"],
])("a key is named as the screens list it: %o", (pressed, name) => {
  expect(keyName(pressed)).toBe(name);
});

test("letters act until somebody switches them off, and where nothing can be kept", () => {
  const kept = new Map<string, string>();
  browser(kept);
  expect(lettersOn()).toBe(true);
  kept.set("ubrex.letters", "off");
  expect(lettersOn()).toBe(false);
  browser(null);
  expect(lettersOn()).toBe(true);
});

test("what is kept comes back, what is dropped does not, and a browser without storage says so", () => {
  browser(new Map());
  expect(store("ubrex.setup", "7")).toBe(true);
  expect(setupOnBench(1)).toBe(7);
  expect(store("ubrex.setup", null)).toBe(true);
  expect(setupOnBench(1)).toBe(1);
  browser(null);
  expect(store("ubrex.setup", "7")).toBe(false);
  expect(readStored("ubrex.setup")).toBeNull();
});
