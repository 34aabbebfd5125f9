import { describe, expect, test } from "vitest";

import { faceRect, faceSize, FACES, layOut, onFace, toPaper } from "./net";

const SIZE: [number, number, number] = [170, 140, 40];
const SHEET = { w: 848, h: 689 };

describe("the unfolded case", () => {
  const net = layOut(SIZE, SHEET, false);

  test("it is as large as the sheet allows, and all of it is on the sheet", () => {
    // by hand: across 170 + 2 x 140 = 450 on 848 - 68; down 2 x 140 + 2 x 40 = 360 on 689 - 34 - 52, under the buttons
    expect(net.k).toBeCloseTo(Math.min(780 / 450, 603 / 360), 6);
    for (const f of FACES) {
      const r = faceRect(net, f, 0, 0, ...faceSize(net, f));
      expect(r.x).toBeGreaterThanOrEqual(0);
      expect(r.y).toBeGreaterThanOrEqual(0);
      expect(r.x + r.width).toBeLessThanOrEqual(SHEET.w);
      expect(r.y + r.height).toBeLessThanOrEqual(SHEET.h);
    }
  });

  test("no face is under the buttons, and beside them a narrow back has all the height", () => {
    expect(faceRect(net, "back", 0, 0, ...faceSize(net, "back")).y).toBeCloseTo(52, 6);
    const narrow = layOut([60, 140, 40], SHEET, false);
    const r = faceRect(narrow, "back", 0, 0, ...faceSize(narrow, "back"));
    // 60 x 621 / 360 wide in the middle of 848: ends at 476, the buttons begin at 496
    expect([r.y, r.x + r.width]).toEqual([expect.closeTo(34, 6), expect.closeTo(424 + 51.75, 6)]);
  });

  test("faces that share an edge of the case share it on the paper", () => {
    const [w, d, h] = SIZE;
    const near = (a: number[], b: number[]) => {
      expect(a[0]).toBeCloseTo(b[0]!, 6);
      expect(a[1]).toBeCloseTo(b[1]!, 6);
    };
    near(toPaper(net, "front", 0, h), toPaper(net, "top", 0, 0)); // front's upper edge is the top's lower one
    near(toPaper(net, "front", w, 0), toPaper(net, "right", 0, 0));
    near(toPaper(net, "front", 0, 0), toPaper(net, "left", d, 0));
    near(toPaper(net, "front", 0, 0), toPaper(net, "bottom", 0, d)); // the bottom seen from below: its v runs forward
    near(toPaper(net, "top", 0, d), toPaper(net, "back", w, h)); // seen from behind, right is left
  });

  test("faces do not lie on one another", () => {
    const rects = FACES.map((f) => faceRect(net, f, 0, 0, ...faceSize(net, f)));
    rects.forEach((a, i) => {
      rects.slice(i + 1).forEach((b) => {
        const over =
          Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x) > 1e-6 &&
          Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y) > 1e-6;
        expect(over).toBe(false);
      });
    });
  });

  test.each(FACES)("a drag on the %s face moves as far on the face as on the paper", (face) => {
    for (const inside of [false, true]) {
      const n = layOut(SIZE, SHEET, inside);
      const [u, v] = [faceSize(n, face)[0] / 2, faceSize(n, face)[1] / 2];
      const from = toPaper(n, face, u, v);
      const to = toPaper(n, face, u + 7, v - 3);
      const [du, dv] = onFace(n, face, to[0] - from[0], to[1] - from[1]);
      expect(du).toBeCloseTo(7, 6);
      expect(dv).toBeCloseTo(-3, 6);
    }
  });

  test.each(FACES)(
    "the %s face by itself is as large as the sheet allows, and a drag goes with the hand",
    (face) => {
      for (const inside of [false, true]) {
        const n = layOut(SIZE, SHEET, inside, face);
        const [w, h] = faceSize(n, face);
        expect(n.k).toBeCloseTo(Math.min((SHEET.w - 136) / w, (SHEET.h - 170) / h), 6);
        const r = faceRect(n, face, 0, 0, w, h);
        expect(r.x).toBeGreaterThanOrEqual(0);
        expect(r.x + r.width).toBeLessThanOrEqual(SHEET.w);
        expect(r.y).toBeGreaterThanOrEqual(0);
        expect(r.y + r.height).toBeLessThanOrEqual(SHEET.h);
        const [from, to] = [toPaper(n, face, 20, 15), toPaper(n, face, 27, 18)];
        expect(to[1]).toBeLessThan(from[1]); // up is up, the back too
        expect(to[0] > from[0]).toBe(!inside);
        const [du, dv] = onFace(n, face, to[0] - from[0], to[1] - from[1]);
        expect(du).toBeCloseTo(7, 6);
        expect(dv).toBeCloseTo(3, 6);
      }
    },
  );

  test("seen from inside it is its own mirror image", () => {
    const inside = layOut(SIZE, SHEET, true);
    const middle = net.x + (SIZE[0] * net.k) / 2;
    for (const f of FACES) {
      const [x, y] = toPaper(net, f, 12, 9);
      const [mx, my] = toPaper(inside, f, 12, 9);
      expect(mx).toBeCloseTo(2 * middle - x, 6);
      expect(my).toBeCloseTo(y, 6);
    }
  });
});
