import { describe, expect, test } from "vitest";

import type { V3 } from "../../sheet/vector";
import { layOut, project } from "./panes";
import { closer, FIT, shifted, zoomed } from "./zoom";

const SHEET = { w: 848, h: 689 };
const panes = layOut([170, 140, 40], SHEET);

describe("looking closer at the bench", () => {
  test("fit leaves the drawing as it is laid out", () => {
    expect(zoomed(panes, FIT)).toEqual(panes);
  });

  test("what is under the pointer stays there", () => {
    const at: V3 = [40, 60, 10];
    for (const [i, p] of panes.entries()) {
      const [px, py] = project(p, at);
      const z = closer(FIT, 2.5, px, py, SHEET);
      const [qx, qy] = project(zoomed(panes, z)[i]!, at);
      expect(qx).toBeCloseTo(px, 6);
      expect(qy).toBeCloseTo(py, 6);
    }
  });

  test("closer and as much farther is where one was; farther than all of it is all of it", () => {
    const z = closer(closer(FIT, 2, 300, 200, SHEET), 0.5, 300, 200, SHEET);
    expect([z.times, z.x, z.y].map((v) => v + 0)).toEqual([1, 0, 0]);
    expect(closer(FIT, 0.2, 10, 10, SHEET).times).toBe(1);
    expect(closer(FIT, 100, 10, 10, SHEET).times).toBe(8);
  });

  test("moved far the drawing still covers the sheet", () => {
    const z = shifted(closer(FIT, 2, 400, 300, SHEET), 9000, -9000, SHEET);
    expect([z.x + 0, z.y]).toEqual([0, -SHEET.h]);
    expect(shifted(FIT, 50, -50, SHEET)).toMatchObject({ times: 1 });
    expect(shifted(FIT, 50, 50, SHEET).x + 0).toBe(0);
  });
});
