/** What is said of a seam. */

import type { PartOverBed } from "../../api/schema";
import { brief, show } from "../../ui/number";

export type Cut = PartOverBed["cuts"]["cuts"][number];
export type JoinKind = Cut["joined"];

/** Whether two are one cut of a part. */
export const same = (a: Pick<Cut, "axis" | "at_mm">, b: Pick<Cut, "axis" | "at_mm">) =>
  a.axis === b.axis && a.at_mm === b.at_mm;

/** A moment with no more digits than are known of it. */
export const moment = (nm: number) => show(nm, nm < 10 ? 1 : 0);

/** What stands along a cut, counted. */
export function held(cut: Pick<Cut, "dowels" | "pin" | "joined">): string {
  const n = cut.dowels.length;
  const size = cut.pin ? `, ${brief(cut.pin.d_mm, 2)} x ${brief(cut.pin.long_mm, 1)}` : "";
  switch (cut.joined) {
    case "steel pins":
      return `${n} dowel pins${size}`;
    case "filament pins":
      return `${n} pins of filament${size}`;
    case "dovetails":
      return `${n} ${n === 1 ? "dovetail" : "dovetails"}`;
    case "bolts":
      return n === 1 ? "1 bolt with its nut through flanges" : `${n} bolts with nuts through flanges`;
    case "glue alone":
      return "No pins";
  }
}

/** What joins all of some cuts, if it is one thing. */
export const alike = (cuts: readonly Pick<Cut, "joined">[]): JoinKind | null =>
  cuts.every((x) => x.joined === cuts[0]?.joined) ? (cuts[0]?.joined ?? null) : null;
