import { expect, test } from "vitest";

import { runs } from "./runs";

const at = (at_mm: number, price: number | null, why = "") => ({ at_mm, price, why });

test("places that are alike are one stretch, met half way", () => {
  expect(runs([at(10, 0), at(12, 0), at(14, null, "a post"), at(16, null, "a post"), at(18, 0.5)])).toEqual([
    { from: 10, to: 13, price: 0, why: "" },
    { from: 13, to: 17, price: null, why: "a post" },
    { from: 17, to: 18, price: 0.5, why: "" },
  ]);
});

test("another reason is another stretch, and no place is none", () => {
  expect(runs([at(10, null, "a post"), at(12, null, "a fan")])).toHaveLength(2);
  expect(runs([])).toEqual([]);
});
