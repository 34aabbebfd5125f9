import { expect, test } from "vitest";

const FILES = import.meta.glob<string>("./**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true });

/** What each file imports of its own house. */
function graph(): Map<string, string[]> {
  const known = new Set(Object.keys(FILES));
  const out = new Map<string, string[]>();
  for (const [file, text] of Object.entries(FILES)) {
    const here = file.split("/").slice(0, -1);
    const found: string[] = [];
    for (const m of text.matchAll(/(?:from|import\()\s*"(\.[^"]+)"/g)) {
      const parts = [...here];
      for (const step of m[1]!.split("/")) {
        if (step === "..") parts.pop();
        else if (step !== ".") parts.push(step);
      }
      const base = parts.join("/");
      const to = [`${base}.ts`, `${base}.tsx`].find((f) => known.has(f));
      if (to) found.push(to);
    }
    out.set(file, found);
  }
  return out;
}

test("no files import one another in a circle", () => {
  const edges = graph();
  const done = new Set<string>();
  const circles: string[] = [];
  const walk = (file: string, path: string[]) => {
    const at = path.indexOf(file);
    if (at >= 0) circles.push([...path.slice(at), file].join(" > "));
    if (at >= 0 || done.has(file)) return;
    for (const next of edges.get(file) ?? []) walk(next, [...path, file]);
    done.add(file);
  };
  for (const file of edges.keys()) walk(file, []);
  expect(edges.size).toBeGreaterThan(40);
  expect(circles).toEqual([]);
});
