import type { Mark } from "./mark";

export const FRESH_MM = [20, 8] as const; // an opening of one's own as it is put there
const STEP_MM = [24, 12] as const; // from one place that is tried to the next
const OFF_MM = 2; // of what is there, and of the edges

/** The place on a face where a fresh opening lies on nothing that is there: at half of its height, else higher or lower, nearest to the middle; the middle where
    all is taken. */
export function freeMiddle(
  face: string,
  [w, h]: readonly [number, number],
  marks: readonly Mark[],
): [number, number] {
  const there = marks.filter((m) => m.o.face === face);
  const half = FRESH_MM.map((x) => x / 2 + OFF_MM);
  const free = (at: readonly number[]) =>
    at.every((x, i) => x - half[i]! >= 0 && x + half[i]! <= [w, h][i]!) &&
    !there.some((m) => at.every((x, i) => Math.abs(x - m.o.at_mm[i]!) < half[i]! + m.o.size_mm[i]! / 2));
  const count = [w, h].map((x, i) => Math.floor(x / 2 / STEP_MM[i]!));
  const steps = (n: number) => Array.from({ length: 2 * n + 1 }, (_, k) => k - n);
  const far = (x: number, whole: number) => Math.abs(x - whole / 2);
  const places = steps(count[0]!)
    .flatMap((i) =>
      steps(count[1]!).map((j): [number, number] => [w / 2 + i * STEP_MM[0], h / 2 + j * STEP_MM[1]]),
    )
    .sort((a, b) => far(a[1], h) - far(b[1], h) || far(a[0], w) - far(b[0], w));
  return places.find(free) ?? [w / 2, h / 2];
}
