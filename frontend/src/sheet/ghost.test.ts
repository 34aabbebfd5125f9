import { describe, expect, it } from "vitest";

import type { ThingOut } from "../api/schema";
import { ghostOf } from "./ghost";

const solid = { name: "b", role: "board", lo: [10, 10, 5], hi: [30, 40, 7], round_axis: null, corners: [] };
const board = { id: "board", at_mm: [17, 27, 2], rides_on: null, solids: [solid] } as unknown as ThingOut;
const cooler = {
  id: "cooler",
  at_mm: [20, 30, 4],
  rides_on: "board",
  solids: [solid],
} as unknown as ThingOut;

describe("the ghost of a remedy", () => {
  it("shows a thing in its new place, and what rides on it", () => {
    const g = ghostOf([{ do: "move", id: "board", to_mm: [20, null, null] }], [board, cooler], [100, 80, 40]);
    expect(g.solids.map((s) => s.lo)).toEqual([
      [13, 10, 5],
      [13, 10, 5],
    ]);
    expect(g.box).toBeNull();
  });
  it("knows that places are told from a corner that goes along with the left wall", () => {
    const edits = [
      { do: "move-wall" as const, face: "left" as const, by_mm: 6 },
      { do: "move" as const, id: "board", to_mm: [20, 27, 2] as [number, number, number] },
    ];
    const g = ghostOf(edits, [board], [100, 80, 40]);
    expect(g.box).toEqual({ lo: [-6, 0, 0], hi: [100, 80, 40] });
    expect(g.solids[0]?.lo).toEqual([10 + 3 - 6, 10, 5]); // 3 to the right of the new corner, which went 6 to the left
  });
  it("takes edits that are done together one by one, and has nothing to show of others", () => {
    const together = {
      do: "together" as const,
      said: "",
      edits: [{ do: "move-wall" as const, face: "top" as const, by_mm: 4 }],
    };
    expect(ghostOf([together], [board], [100, 80, 40]).box?.hi).toEqual([100, 80, 44]);
    expect(ghostOf([{ do: "turn", id: "board", by: 90 }], [board], [100, 80, 40])).toEqual({
      solids: [],
      box: null,
    });
  });
});
