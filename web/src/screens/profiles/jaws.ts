export type Jaws = { left: number; right: number };

/** Jaws after one moved to the next revision that way; the left one never passes the right one. */
export function moveJaw(jaws: Jaws, which: "left" | "right", by: 1 | -1, numbers: readonly number[]): Jaws {
  const next = numbers[numbers.indexOf(jaws[which]) + by];
  if (next === undefined) return jaws;
  const moved = { ...jaws, [which]: next };
  return moved.left <= moved.right ? moved : jaws;
}
