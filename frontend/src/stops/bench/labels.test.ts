import { describe, expect, test } from "vitest";

import { placeLabels } from "./labels";

const at = (id: string, x: number, y: number, w: number, h: number) => ({
  id,
  name: id,
  hull: { x, y, w, h },
});

describe("names on the bench", () => {
  test("a name stands in the middle of its thing", () => {
    expect(placeLabels([at("Drive", 100, 50, 80, 40)])).toEqual([
      { id: "Drive", name: "Drive", x: 140, y: 70 },
    ]);
  });

  test("a name is not put under what is drawn over its thing", () => {
    const [board, cooler] = placeLabels([at("Board", 0, 0, 200, 100), at("Cooler", 60, 25, 80, 50)]);
    expect(cooler).toMatchObject({ x: 100, y: 50 });
    // beside the cooler or over it, still on the board
    const covers = board!.x > 42 && board!.x < 158 && board!.y > 17.5 && board!.y < 82.5;
    expect(covers).toBe(false);
    expect(board!.x > 0 && board!.x < 200 && board!.y > 0 && board!.y < 100).toBe(true);
  });

  test("two names do not lie on one another", () => {
    const names = placeLabels([at("Left one", 0, 0, 70, 16), at("Right one", 30, 0, 90, 16)]);
    expect(names.map((n) => n.id)).toEqual(["Right one"]);
  });

  test("what is too narrow for its name has none on the paper", () => {
    expect(placeLabels([at("Button", 0, 0, 20, 60), at("Fan", 0, 100, 60, 9)])).toEqual([]);
  });
});
