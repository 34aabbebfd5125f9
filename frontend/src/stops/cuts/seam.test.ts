import { describe, expect, test } from "vitest";

import type { Cut, JoinKind } from "./seam";
import { alike, comesApart, held, heldAt, inPlate, moment, same } from "./seam";

const places = (n: number): Cut["dowels"] => Array.from({ length: n }, (_, k) => [10 * k, 3] as const);
const cut = (joined: JoinKind, n: number, pin: Cut["pin"] = null) => ({ joined, dowels: places(n), pin });

describe("what stands along a cut", () => {
  test("pins are counted with their size", () => {
    expect(held(cut("steel pins", 3, { item: "dowel pin", d_mm: 3, long_mm: 12 }))).toBe(
      "3 dowel pins, 3 x 12",
    );
    expect(held(cut("printed pins", 3, { item: "printed pin", d_mm: 4, long_mm: 16 }))).toBe(
      "3 printed pins, 4 x 16",
    );
    expect(held(cut("steel rods", 1, { item: "steel rod", d_mm: 4, long_mm: 60 }))).toBe(
      "1 rod of steel, 4 x 60",
    );
    expect(held(cut("filament pins", 2, { item: "pin of filament", d_mm: 1.75, long_mm: 16 }))).toBe(
      "2 pins of filament, 1.75 x 16",
    );
  });

  test("one is one, and none are none", () => {
    expect(held(cut("dovetails", 1))).toBe("1 dovetail");
    expect(held(cut("dovetails", 4))).toBe("4 dovetails");
    expect(held(cut("bolts", 1))).toBe("1 bolt with its nut through flanges");
    expect(held(cut("bolts", 2))).toBe("2 bolts with nuts through flanges");
    expect(held(cut("half-lap", 1))).toBe("1 stretch of lap");
    expect(held(cut("tongue and groove", 13))).toBe("13 stretches of tongue");
    expect(held(cut("bridging plates", 2))).toBe("2 bridging plates with two screws each");
    expect(held(cut("magnets", 1))).toBe("1 pair of magnets");
    expect(held(cut("magnets", 3))).toBe("3 pairs of magnets");
    expect(held(cut("glue alone", 0))).toBe("No pins");
  });
});

test("cuts that are joined alike have one word, others none", () => {
  expect(alike([cut("bolts", 2), cut("bolts", 3)])).toBe("bolts");
  expect(alike([cut("bolts", 2), cut("dovetails", 3)])).toBeNull();
  expect(alike([])).toBeNull();
});

test("what is screwed or drawn together comes apart, what lies in the plate stands on nothing", () => {
  expect((["bolts", "bridging plates", "magnets", "steel rods", null] as const).map(comesApart)).toEqual([
    true,
    true,
    true,
    false,
    false,
  ]);
  expect((["dovetails", "half-lap", "steel pins"] as const).map(inPlate)).toEqual([true, true, false]);
});

test("a moment is told with the digits that are known of it", () => {
  expect([moment(0.748), moment(9.94), moment(10.2), moment(465.03)]).toEqual(["0.7", "9.9", "10", "465"]);
});

test("a cut is the same at its place across its axis", () => {
  expect(same({ axis: "x", at_mm: 86 }, { axis: "x", at_mm: 86 })).toBe(true);
  expect(same({ axis: "x", at_mm: 86 }, { axis: "y", at_mm: 86 })).toBe(false);
  expect(same({ axis: "x", at_mm: 86 }, { axis: "x", at_mm: 88 })).toBe(false);
});

describe("the cut that a hand holds", () => {
  const seam = (axis: "x" | "y", at_mm: number) => ({ cut: { axis, at_mm } });
  const others = [
    { axis: "x" as const, at_mm: 60 },
    { axis: "y" as const, at_mm: 80 },
  ];
  test("keeps its line when it passes another", () => {
    const before = [seam("x", 60), seam("x", 120), seam("y", 80)];
    expect(heldAt(before, before[1]!.cut, others)).toBe(1);
    expect(heldAt([seam("x", 30), seam("x", 60.0004), seam("y", 80)], before[1]!.cut, others)).toBe(0);
  });
  test("is not mixed up with one across the other axis", () => {
    expect(heldAt([seam("x", 80), seam("y", 80)], { axis: "x" }, [{ axis: "y", at_mm: 80 }])).toBe(0);
  });
});
