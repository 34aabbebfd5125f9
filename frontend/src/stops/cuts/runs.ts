import type { PartOverBed } from "../../api/schema";

type Place = PartOverBed["ways"][number]["prices"][number];

/** A stretch of neighbouring places that are alike: may a cut run there, what it costs, and why. */
export interface Run {
  from: number;
  to: number;
  price: number | null;
  why: string;
}

/** Places that are alike, drawn as one; each stands for half of the way to its neighbours. */
export function runs(places: readonly Place[]): Run[] {
  const out: Run[] = [];
  places.forEach((p, i) => {
    const before = places[i - 1];
    const after = places[i + 1];
    const from = before ? (before.at_mm + p.at_mm) / 2 : p.at_mm;
    const to = after ? (p.at_mm + after.at_mm) / 2 : p.at_mm;
    const last = out.at(-1);
    if (last && last.price === p.price && last.why === p.why) last.to = to;
    else out.push({ from, to, price: p.price, why: p.why });
  });
  return out;
}
