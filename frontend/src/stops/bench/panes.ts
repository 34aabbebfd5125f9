/** The three projections of the bench, laid out as one unfolded drawing: front under plan, side beside it. */

export type V3 = [number, number, number];
export type PaneKey = "plan" | "front" | "side";

export interface Pane {
  key: PaneKey;
  label: string;
  /** Case axes along the paper: right and up. */
  right: 0 | 1 | 2;
  up: 0 | 1 | 2;
  x: number;
  y: number;
  w: number;
  h: number;
  k: number;
}

/** Lay the panes out on a sheet of so many pixels; `k` is pixels per millimetre. */
export function layOut(outer: V3, sheet: { w: number; h: number }): Pane[] {
  const [w, d, h] = outer;
  const margin = 58;
  const gap = 46;
  const k = Math.max(
    0.2,
    Math.min((sheet.w - 2 * margin - gap) / (w + h), (sheet.h - 2 * margin - gap) / (d + h)),
  );
  const x0 = Math.max(margin, (sheet.w - (w + h) * k - gap) / 2);
  const y0 = Math.max(margin - 8, (sheet.h - (d + h) * k - gap) / 2);
  return [
    { key: "plan", label: "Plan, from above", right: 0, up: 1, x: x0, y: y0, w: w * k, h: d * k, k },
    { key: "front", label: "Front", right: 0, up: 2, x: x0, y: y0 + d * k + gap, w: w * k, h: h * k, k },
    {
      key: "side",
      label: "From the right, lying",
      right: 2,
      up: 1,
      x: x0 + w * k + gap,
      y: y0,
      w: h * k,
      h: d * k,
      k,
    },
  ];
}

/** A point of the case on a pane, in pixels. */
export function project(p: Pane, v: V3): [number, number] {
  return [p.x + v[p.right] * p.k, p.y + p.h - v[p.up] * p.k];
}

/** A move on the paper as a move in the case, mm. */
export function lift(p: Pane, dx: number, dy: number): V3 {
  const v: V3 = [0, 0, 0];
  v[p.right] = dx / p.k;
  v[p.up] = -dy / p.k;
  return v;
}

export const add = (a: V3, b: V3): V3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const tenth = (v: number) => Math.round(v * 10) / 10;

/** The axis that a face is at right angles to. */
export const NORMAL: Record<string, 0 | 1 | 2> = { left: 0, right: 0, front: 1, back: 1, top: 2, bottom: 2 };
