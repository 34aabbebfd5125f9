import { describe, expect, it } from "vitest";

import { ghostCuts } from "./ghostCuts";

const cut = { part: "base", axis: "x", at_mm: 40, by: null, turn_deg: 0, lean_deg: 0 } as const;

describe("the cuts that a remedy would make", () => {
  it("are told in the frame of the case, of one part only", () => {
    const edits = [{ do: "put-cuts", part: "base", cuts: [cut, { ...cut, axis: "y", at_mm: 10 }] } as const];
    const both = ghostCuts([{ do: "together", said: "", edits: [...edits] }] as never, "base", [2.5, 3, 4]);
    expect(both).toEqual([
      { axis: "x", at_mm: 42.5 },
      { axis: "y", at_mm: 13 },
    ]);
    expect(ghostCuts([{ do: "put-cut", cut }], "lid", [2.5, 3, 4])).toEqual([]);
  });
});
