/** Looking closer at the bench: the whole drawing made larger about a point, and moved. */

import type { Pane } from "./panes";

export interface Zoom {
  times: number;
  x: number;
  y: number;
}

/** All of it on the sheet, as it is laid out. */
export const FIT: Zoom = { times: 1, x: 0, y: 0 };
const MOST = 8;

export function zoomed(panes: readonly Pane[], z: Zoom): Pane[] {
  return panes.map((p) => ({
    ...p,
    x: p.x * z.times + z.x,
    y: p.y * z.times + z.y,
    w: p.w * z.times,
    h: p.h * z.times,
    k: p.k * z.times,
    top: p.top * z.times + z.y,
  }));
}

/** Closer (more than 1) or farther by a factor; the point of the sheet at px, py stays where it is. */
export function closer(
  z: Zoom,
  factor: number,
  px: number,
  py: number,
  sheet: { w: number; h: number },
): Zoom {
  const times = Math.max(1, Math.min(MOST, z.times * factor));
  const by = times / z.times;
  return onSheet({ times, x: px - (px - z.x) * by, y: py - (py - z.y) * by }, sheet);
}

/** Moved by so many pixels. The drawing never leaves the sheet bare: its edges stop at the sheet's. */
export function shifted(z: Zoom, dx: number, dy: number, sheet: { w: number; h: number }): Zoom {
  return onSheet({ ...z, x: z.x + dx, y: z.y + dy }, sheet);
}

function onSheet(z: Zoom, sheet: { w: number; h: number }): Zoom {
  const hold = (v: number, size: number) => Math.min(0, Math.max(size * (1 - z.times), v));
  return { times: z.times, x: hold(z.x, sheet.w), y: hold(z.y, sheet.h) };
}
