/** Options whose text holds every word that was typed, in any order. */
export function matching<T extends { text: string }>(options: readonly T[], typed: string): T[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return options.filter((row) => words.every((word) => row.text.toLowerCase().includes(word)));
}
