import { describe, expect, test } from "vitest";

import type { V3 } from "../../sheet/vector";
import { type Extent, extentOf, layOut, lift, type Pane, project } from "./panes";

const OUTER: V3 = [170, 140, 40];
const SHEET = { w: 848, h: 689 };

/** The paper that a box takes up in a pane. */
function onPaper(p: Pane, b: Extent) {
  const [a, c] = [project(p, b.lo), project(p, b.hi)];
  return {
    x0: Math.min(a[0], c[0]),
    x1: Math.max(a[0], c[0]),
    y0: Math.min(a[1], c[1]),
    y1: Math.max(a[1], c[1]),
  };
}

describe.each([
  ["the case alone", []],
  ["a drive far to the right", [{ lo: [260, 20, 5], hi: [330, 120, 15] }]],
  [
    "a tower through the lid, and something before the front",
    [
      { lo: [10, 10, 3], hi: [90, 60, 180] },
      { lo: [20, -90, 3], hi: [60, -20, 30] },
    ],
  ],
] as [string, Extent[]][])("the bench with %s", (_, boxes) => {
  const all = extentOf(OUTER, boxes);
  const panes = layOut(OUTER, SHEET, all);

  test("a view's name stands over all that it shows, on the sheet", () => {
    for (const p of panes) {
      const tops = [{ lo: [0, 0, 0] as V3, hi: OUTER }, ...boxes].map((b) => onPaper(p, b).y0);
      expect(p.top).toBeCloseTo(Math.min(...tops), 6);
      expect(p.top).toBeGreaterThan(20);
    }
  });

  test("nothing is off the sheet", () => {
    for (const p of panes)
      for (const b of [{ lo: [0, 0, 0] as V3, hi: OUTER }, ...boxes]) {
        const r = onPaper(p, b);
        expect(r.x0).toBeGreaterThanOrEqual(0);
        expect(r.y0).toBeGreaterThanOrEqual(0);
        expect(r.x1).toBeLessThanOrEqual(SHEET.w + 1e-6);
        expect(r.y1).toBeLessThanOrEqual(SHEET.h + 1e-6);
      }
  });

  test("no view lies on another", () => {
    const cells = panes.map((p) => onPaper(p, all));
    cells.forEach((a, i) => {
      cells.slice(i + 1).forEach((b) => {
        expect(
          Math.min(a.x1, b.x1) > Math.max(a.x0, b.x0) && Math.min(a.y1, b.y1) > Math.max(a.y0, b.y0),
        ).toBe(false);
      });
    });
  });

  test("the case is drawn where its pane says", () => {
    for (const p of panes) {
      const r = onPaper(p, { lo: [0, 0, 0], hi: OUTER });
      expect(r.x0).toBeCloseTo(p.x, 6);
      expect(r.y0).toBeCloseTo(p.y, 6);
      expect(r.x1 - r.x0).toBeCloseTo(p.w, 6);
      expect(r.y1 - r.y0).toBeCloseTo(p.h, 6);
    }
  });

  test("a drag moves as far in the case as on the paper", () => {
    for (const p of panes) {
      const from = project(p, [10, 20, 5]);
      const v: V3 = [10, 20, 5];
      v[p.right] += 4;
      v[p.up] -= 6;
      const to = project(p, v);
      const by = lift(p, to[0] - from[0], to[1] - from[1]);
      expect(by[p.right]).toBeCloseTo(4, 6);
      expect(by[p.up]).toBeCloseTo(-6, 6);
    }
  });
});
