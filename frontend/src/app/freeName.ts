/** A key of the words that nobody has yet: `pla-bone`, `pla-bone-2` … */
export function freeName(words: string, taken: ReadonlySet<unknown>): string {
  const base = words
    .toLowerCase()
    .replace(/[^a-z0-9._-]+/g, "-")
    .slice(0, 30);
  let free = base;
  for (let n = 2; taken.has(free); n++) free = `${base}-${n}`;
  return free;
}
