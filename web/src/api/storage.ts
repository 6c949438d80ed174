/** What this browser keeps; null where storage is switched off or empty. */
export function readStored(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

/** Keep a text in this browser, or drop it with null; false where storage is switched off or full. */
export function store(key: string, value: string | null): boolean {
  try {
    if (value === null) localStorage.removeItem(key);
    else localStorage.setItem(key, value);
    return true;
  } catch {
    return false;
  }
}

/** The setup this browser has on its bench, or else the first of the workshop. */
export function setupOnBench(first: number): number {
  return Number(readStored("ubrex.setup")) || first;
}
