/** The three projections of the bench, laid out as one unfolded drawing: front under plan, side beside it. */

import type { V3 } from "../../sheet/vector";

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
  /** The top of all that it shows, where its name stands over. */
  top: number;
}

/** Boxes of the case's frame, by two corners. */
export interface Extent {
  lo: V3;
  hi: V3;
}

/** What the case and everything on the bench cover together. */
export function extentOf(outer: V3, boxes: readonly Extent[]): Extent {
  const lo: V3 = [0, 0, 0];
  const hi: V3 = [...outer];
  for (const b of boxes)
    for (const i of [0, 1, 2] as const) {
      lo[i] = Math.min(lo[i], b.lo[i]);
      hi[i] = Math.max(hi[i], b.hi[i]);
    }
  return { lo, hi };
}

/**
 * Lay the panes out on a sheet of so many pixels; `k` is pixels per millimetre. A pane's place and size are those of the case; room is left for what
 * stands beyond it, so that nothing is off the sheet and no view lies on another.
 */
export function layOut(
  outer: V3,
  sheet: { w: number; h: number },
  all: Extent = { lo: [0, 0, 0], hi: outer },
): Pane[] {
  const [w, d, h] = outer;
  const [bw, bd, bh] = [0, 1, 2].map((i) => all.hi[i]! - all.lo[i]!) as V3;
  const margin = 58;
  const gap = 46;
  const k = Math.max(
    0.05,
    Math.min((sheet.w - 2 * margin - gap) / (bw + bh), (sheet.h - 2 * margin - gap) / (bd + bh)),
  );
  const x0 = Math.max(margin, (sheet.w - (bw + bh) * k - gap) / 2);
  const y0 = Math.max(margin - 8, (sheet.h - (bd + bh) * k - gap) / 2);
  const x = x0 - all.lo[0] * k;
  const y = y0 + (all.hi[1] - d) * k;
  return [
    { key: "plan", label: "Plan, from above", right: 0, up: 1, x, y, w: w * k, h: d * k, k, top: y0 },
    {
      key: "front",
      label: "Front",
      right: 0,
      up: 2,
      x,
      y: y0 + bd * k + gap + (all.hi[2] - h) * k,
      w: w * k,
      h: h * k,
      k,
      top: y0 + bd * k + gap,
    },
    {
      key: "side",
      label: "From the right, lying",
      right: 2,
      up: 1,
      x: x0 + bw * k + gap - all.lo[2] * k,
      y,
      w: h * k,
      h: d * k,
      k,
      top: y0,
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

export const tenth = (v: number) => Math.round(v * 10) / 10;

/** The axis that a face is at right angles to. */
export const NORMAL: Record<string, 0 | 1 | 2> = { left: 0, right: 0, front: 1, back: 1, top: 2, bottom: 2 };
