/** What is said of a seam. */

import type { PartOverBed } from "../../api/schema";
import { brief, show } from "../../ui/number";

export type Cut = PartOverBed["cuts"]["cuts"][number];
export type JoinKind = Cut["joined"];

/** Whether two are one cut of a part. */
export const same = (a: Pick<Cut, "axis" | "at_mm">, b: Pick<Cut, "axis" | "at_mm">) =>
  a.axis === b.axis && a.at_mm === b.at_mm;

/** Which seam is that of the cut a hand holds: the one across its axis that is none of the others. It may have passed one of them, and the order is that of their places. */
export const heldAt = (
  seams: readonly { cut: Pick<Cut, "axis" | "at_mm"> }[],
  cut: Pick<Cut, "axis">,
  others: readonly Pick<Cut, "axis" | "at_mm">[],
) =>
  seams.findIndex(
    (s) =>
      s.cut.axis === cut.axis &&
      !others.some((o) => o.axis === cut.axis && Math.abs(o.at_mm - s.cut.at_mm) < 0.01),
  );

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
    case "printed pins":
      return `${n} printed pins${size}`;
    case "steel rods":
      return `${n} ${n === 1 ? "rod" : "rods"} of steel${size}`;
    case "rods through all pieces":
      return `${n} ${n === 1 ? "rod" : "rods"} of steel${size}, through all pieces`;
    case "tongue and groove":
      return n === 1 ? "1 stretch of tongue" : `${n} stretches of tongue`;
    case "half-lap":
      return n === 1 ? "1 stretch of lap" : `${n} stretches of lap`;
    case "bridging plates":
      return n === 1 ? "1 bridging plate with two screws" : `${n} bridging plates with two screws each`;
    case "magnets":
      return n === 1 ? "1 pair of magnets" : `${n} pairs of magnets`;
    case "dovetails":
      return `${n} ${n === 1 ? "dovetail" : "dovetails"}`;
    case "bolts":
      return n === 1 ? "1 bolt with its nut through flanges" : `${n} bolts with nuts through flanges`;
    case "glue alone":
      return "No pins";
  }
}

/** Whether a cut is not glued: what joins it is screwed or drawn together, and comes apart again. */
export const comesApart = (by: JoinKind | null) =>
  by === "bolts" || by === "bridging plates" || by === "magnets";

/** Whether what joins a cut lies in the plate itself. */
export const inPlate = (by: JoinKind) =>
  by === "dovetails" || by === "tongue and groove" || by === "half-lap";

/** What joins all of some cuts, if it is one thing. */
export const alike = (cuts: readonly Pick<Cut, "joined">[]): JoinKind | null =>
  cuts.every((x) => x.joined === cuts[0]?.joined) ? (cuts[0]?.joined ?? null) : null;
