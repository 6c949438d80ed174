/** Options whose text holds every word that was typed, in any order; what reads just as typed comes first. */
export function matching<T extends { text: string }>(options: readonly T[], typed: string): T[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const whole = words.join(" ");
  const rank = ({ text }: T) => {
    const at = text.toLowerCase().indexOf(whole);
    return at === 0 ? 0 : at > 0 ? 1 : 2;
  };
  return options
    .filter((row) => words.every((word) => row.text.toLowerCase().includes(word)))
    .sort((left, right) => rank(left) - rank(right));
}
