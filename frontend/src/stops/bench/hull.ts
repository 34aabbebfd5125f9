import type { SolidOut, ThingOut } from "../../api/schema";
import type { Box } from "../../sheet/Slip";
import { add, type V3 } from "../../sheet/vector";
import { type Pane, project } from "./panes";

export function order(s: SolidOut, p: Pane): number {
  if (s.role === "plug" || s.role === "keepout") return -1e6;
  return p.key === "plan" ? s.hi[2] : p.key === "front" ? -s.lo[1] : s.hi[0];
}

/** The paper a thing takes up in a view, without its soft shapes. */
export function hullOf(t: ThingOut, p: Pane, by: V3 = [0, 0, 0]): Box {
  const hard = t.solids.filter((s) => s.role !== "plug" && s.role !== "keepout").map((s) => rect(p, s, by));
  const x = Math.min(...hard.map((q) => q.x));
  const y = Math.min(...hard.map((q) => q.y));
  return { x, y, w: Math.max(...hard.map((q) => q.r)) - x, h: Math.max(...hard.map((q) => q.b)) - y };
}

export function rect(p: Pane, s: Pick<SolidOut, "lo" | "hi">, by: V3) {
  const a = project(p, add(s.lo, by));
  const b = project(p, add(s.hi, by));
  return {
    x: Math.min(a[0], b[0]),
    y: Math.min(a[1], b[1]),
    r: Math.max(a[0], b[0]),
    b: Math.max(a[1], b[1]),
  };
}
