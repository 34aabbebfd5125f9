import type { Edit } from "../api/client";
import type { SolidOut, ThingOut } from "../api/schema";
import { add, type V3 } from "./vector";

/** What a remedy would do to what stands on the bench, before it is pressed: things in their new places, and the walls. */
export interface Ghost {
  solids: SolidOut[];
  box: { lo: V3; hi: V3 } | null;
}

const WALLS: Record<string, [axis: 0 | 1 | 2, far: boolean]> = {
  left: [0, false],
  right: [0, true],
  front: [1, false],
  back: [1, true],
  bottom: [2, false],
  top: [2, true],
};

/** Places of edits are told from the cavity's corner, which goes along when a wall on its side is moved. */
export function ghostOf(edits: readonly Edit[], things: readonly ThingOut[], box: V3): Ghost {
  const lo: V3 = [0, 0, 0];
  const hi: V3 = [...box];
  const corner: V3 = [0, 0, 0];
  let walls = false;
  const solids: SolidOut[] = [];
  for (const e of edits.flatMap((e) => (e.do === "together" ? e.edits : [e]))) {
    const wall = e.do === "move-wall" ? WALLS[e.face] : undefined;
    if (e.do === "move-wall" && wall) {
      const [axis, far] = wall;
      walls = true;
      if (far) hi[axis] += e.by_mm;
      else {
        lo[axis] -= e.by_mm;
        corner[axis] += e.by_mm;
      }
    }
    if (e.do !== "move") continue;
    const moved = things.filter((t) => t.id === e.id || t.rides_on === e.id);
    const at = things.find((t) => t.id === e.id)?.at_mm;
    if (!at) continue;
    const by = ([0, 1, 2] as const).map((i) => (e.to_mm[i] ?? at[i]) - at[i] - corner[i]);
    const [x = 0, y = 0, z = 0] = by;
    for (const t of moved)
      for (const s of t.solids)
        solids.push({
          ...s,
          lo: add(s.lo, [x, y, z]),
          hi: add(s.hi, [x, y, z]),
          corners: s.corners.map((c) => add(c, [x, y, z])),
        });
  }
  return { solids, box: walls ? { lo, hi } : null };
}
