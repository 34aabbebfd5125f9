import { expect, test } from "vitest";

import { freeMiddle } from "./free";
import type { Mark } from "./mark";

const mark = (face: string, at: [number, number], size: [number, number]) =>
  ({ kind: "opening", o: { face, at_mm: at, size_mm: size } }) as unknown as Mark;

test("a fresh opening lies in the middle, or beside what is there, or in the middle where all is taken", () => {
  expect(freeMiddle("front", [170, 37], [])).toEqual([85, 18.5]);
  expect(freeMiddle("front", [170, 37], [mark("back", [85, 18.5], [20, 8])])).toEqual([85, 18.5]);
  // 8 and 2 off on either side are 12: up and down the edges are too near
  expect(freeMiddle("front", [170, 30], [mark("front", [85, 15], [20, 8])])).toEqual([61, 15]);
  const two = [mark("front", [85, 15], [20, 8]), mark("front", [61, 15], [20, 8])];
  expect(freeMiddle("front", [170, 30], two)).toEqual([109, 15]);
  // at the same height rather than over it
  expect(freeMiddle("front", [170, 60], [mark("front", [85, 30], [20, 8])])).toEqual([61, 30]);
  expect(freeMiddle("front", [170, 60], [mark("front", [85, 30], [160, 8])])).toEqual([85, 18]);
  expect(freeMiddle("front", [170, 30], [mark("front", [85, 15], [160, 20])])).toEqual([85, 15]);
});
