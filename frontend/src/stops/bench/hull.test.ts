import { describe, expect, test } from "vitest";

import type { SolidOut, ThingOut } from "../../api/schema";
import { convexPath } from "../../sheet/convex";
import { hullOf, order, rect } from "./hull";
import type { V3 } from "../../sheet/vector";
import { layOut } from "./panes";

const PANES = layOut([100, 80, 40], { w: 900, h: 700 });
const plan = PANES[0]!;
const box = (role: string, lo: V3, hi: V3) => ({ name: role, role, lo, hi }) as unknown as SolidOut;

describe("what a thing takes up on the paper", () => {
  test("a rectangle by hand: right is right, back is up", () => {
    const r = rect(plan, { lo: [10, 20, 0], hi: [30, 50, 5] }, [0, 0, 0]);
    expect((r.r - r.x) / plan.k).toBeCloseTo(20, 6);
    expect((r.b - r.y) / plan.k).toBeCloseTo(30, 6);
    expect((r.x - plan.x) / plan.k).toBeCloseTo(10, 6);
    expect((plan.y + plan.h - r.b) / plan.k).toBeCloseTo(20, 6);
    const moved = rect(plan, { lo: [10, 20, 0], hi: [30, 50, 5] }, [4, -6, 9]);
    expect((moved.x - r.x) / plan.k).toBeCloseTo(4, 6);
    expect((moved.y - r.y) / plan.k).toBeCloseTo(6, 6);
  });

  test("the hull goes round what is hard, and leaves rooms for plugs out", () => {
    const thing = {
      solids: [
        box("board", [10, 20, 0], [40, 40, 2]),
        box("connector", [35, 38, 2], [45, 44, 8]),
        box("plug", [0, 0, 0], [90, 79, 30]),
      ],
    } as unknown as ThingOut;
    const h = hullOf(thing, plan);
    expect(h.w / plan.k).toBeCloseTo(35, 6);
    expect(h.h / plan.k).toBeCloseTo(24, 6);
  });

  test("what is nearer to the eye is drawn later, rooms for plugs first of all", () => {
    const [low, high] = [box("body", [0, 0, 0], [9, 9, 5]), box("body", [0, 20, 0], [9, 30, 12])];
    const plug = box("plug", [0, 0, 0], [9, 9, 39]);
    expect(order(high, plan)).toBeGreaterThan(order(low, plan));
    expect(order(low, PANES[1]!)).toBeGreaterThan(order(high, PANES[1]!)); // the front sees y = 0 before y = 20
    for (const p of PANES) expect(order(plug, p)).toBeLessThan(order(low, p));
  });

  test("the outline of corners leaves out what lies inside", () => {
    const path = convexPath(
      [
        [0, 0],
        [10, 0],
        [10, 6],
        [0, 6],
        [5, 3],
      ],
      ([x = 0, y = 0]) => [x, y],
    );
    expect(path).not.toContain("5.00 3.00");
    expect(path.match(/[ML]/g)).toHaveLength(4);
    expect(convexPath([[1, 1]], ([x = 0, y = 0]) => [x, y])).toBe("");
  });
});
