import { expect, test } from "vitest";

import { changedMarks, ghostMarks } from "./ghostMarks";

const faces = [
  {
    id: "right",
    frame: [
      [0, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
      [1, 0, 0],
    ],
    inset_mm: [3, 2],
  },
  {
    id: "front",
    frame: [
      [0, 0, 0],
      [1, 0, 0],
      [0, 0, 1],
      [0, -1, 0],
    ],
    inset_mm: [3, 2],
  },
] as unknown as Parameters<typeof ghostMarks>[2];
const openings = {
  openings: [
    { id: "board/usb", of: "board", face: "right", at_mm: [30, 12], size_mm: [15, 8] },
    { id: "own/slot", of: "own/slot", face: "front", at_mm: [50, 10], size_mm: [20, 6] },
  ],
  vents: [{ id: "v", fan: null, face: "front", at_mm: [90, 10], size_mm: [30, 12] }],
  texts: [],
} as unknown as Parameters<typeof ghostMarks>[1];
const things = [{ id: "board", at_mm: [10, 20, 3] as [number, number, number] }];

test("a component's openings go with it, along each face as it is seen", () => {
  const [g] = ghostMarks([{ do: "move", id: "board", to_mm: [14, 25, 6] }], openings, faces, things);
  expect(g).toEqual({ face: "right", at: [35, 15], size: [15, 8] });
});

test("an opening is moved on its face; a new field of vents is put beside the cavity", () => {
  const vent = {
    id: "w",
    face: "front",
    at_mm: [40, 8],
    on: null,
    size_mm: [25, 10],
    follow_heat: true,
  } as const;
  const edits = [
    { do: "move-on-face" as const, what: "own/slot", by_mm: [-5, 2] as [number, number] },
    {
      do: "put-vent" as const,
      vent: { ...vent, at_mm: [40, 8] as [number, number], size_mm: [25, 10] as [number, number] },
    },
  ];
  expect(ghostMarks([{ do: "together", said: "", edits }], openings, faces, things)).toEqual([
    { face: "front", at: [45, 12], size: [20, 6] },
    { face: "front", at: [43, 10], size: [25, 10] },
  ]);
  expect(
    ghostMarks(
      [{ do: "fit-cavity", thicker: [], pillar_mm: 0, beside_mm: 0, post_mm: 0, tips: [], only_out: false }],
      openings,
      faces,
      things,
    ),
  ).toEqual([]);
});

test("what a look cuts otherwise is drawn as it would be cut, and nothing else", () => {
  const own = { id: "own/a", face: "front", at_mm: [50, 10], size_mm: [20, 6], round: false, corner_mm: 1 };
  const port = { ...own, id: "board/usb", corner_mm: 0 };
  const field = { id: "v", face: "front", at_mm: [90, 10], size_mm: [30, 12] };
  const of = (openings: unknown[], vents: unknown[]) =>
    ({ openings, vents, texts: [] }) as unknown as Parameters<typeof changedMarks>[0];
  const now = of([own, port], [field]);
  expect(changedMarks(now, now)).toEqual([]);
  expect(changedMarks(now, of([{ ...own, corner_mm: 3 }, port], []))).toEqual([
    { id: "own/a", face: "front", at: [50, 10], size: [20, 6], corner: 3 },
  ]);
  const round = { ...own, size_mm: [9, 9], round: true, corner_mm: 0 };
  expect(changedMarks(now, of([round, port], [field, { ...field, id: "w" }]))).toEqual([
    { id: "own/a", face: "front", at: [50, 10], size: [9, 9], corner: 4.5 },
    { id: "w", face: "front", at: [90, 10], size: [30, 12], corner: 0 },
  ]);
});
