/** Places and ways in the frame of the case, mm. */
export type V3 = [number, number, number];

export const add = (a: readonly number[], b: V3): V3 => [a[0]! + b[0], a[1]! + b[1], a[2]! + b[2]];
