import type { Component } from "../../api/schema";

/** The box of a component's solids, soft room left out where asked. */
export function extent(c: Component, soft = true) {
  const mine = soft ? c.solids : c.solids.filter((s) => s.role !== "plug" && s.role !== "keepout");
  const all = mine.length ? mine : c.solids;
  return {
    lo: [0, 1, 2].map((i) => Math.min(...all.map((s) => s.lo[i]!))) as [number, number, number],
    hi: [0, 1, 2].map((i) => Math.max(...all.map((s) => s.hi[i]!))) as [number, number, number],
  };
}

export const FILL: Record<string, string> = {
  board: "color-mix(in srgb, var(--verdigris) 16%, var(--leaf))",
  body: "color-mix(in srgb, var(--slate) 20%, var(--leaf))",
  connector: "color-mix(in srgb, var(--slate) 8%, var(--leaf))",
  pins: "none",
  plug: "url(#soft)",
  keepout: "url(#soft)",
};

/** Whether a value is known only from doubtful memory. */
export const doubted = (x: { mark: string; sure_mm?: number | null }) =>
  x.mark === "doubtful" && (x.sure_mm ?? null) === null;
