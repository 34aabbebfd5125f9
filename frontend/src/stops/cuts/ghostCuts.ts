import type { Edit } from "../../api/client";

/** A cut that a remedy would make: across an axis, so far along it in the frame of the case. */
export interface GhostCut {
  axis: "x" | "y" | "z";
  at_mm: number;
}

/** Where edits would cut a part. They count from the part's `from_mm`, a corner in the frame of the case. */
export function ghostCuts(edits: readonly Edit[], part: string, corner: readonly number[]): GhostCut[] {
  return edits
    .flatMap((e) => (e.do === "together" ? e.edits : [e]))
    .flatMap((e) => (e.do === "put-cuts" ? e.cuts : e.do === "put-cut" ? [e.cut] : []))
    .filter((c) => c.part === part)
    .map((c) => ({ axis: c.axis, at_mm: c.at_mm + corner[{ x: 0, y: 1, z: 2 }[c.axis]]! }));
}
