/** Names on the drawing: each where its thing can be seen, clear of the names before it. */

import type { Box } from "../../sheet/Slip";

export interface Named {
  id: string;
  name: string;
  /** What the thing covers on the paper. */
  hull: Box;
}

export interface Label {
  id: string;
  name: string;
  x: number;
  y: number;
}

const HEIGHT = 15;
const LETTER = 6.9; // width of a letter of 12 px, about
const AIR = 4;

const meets = (a: Box, b: Box) => a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h;

/**
 * Places of names by their middles, for things in the order in which they are drawn: a name is not put under what is drawn over its thing.
 * A thing in which its name finds no free place has none on the paper; the screen reader tells it all the same.
 */
export function placeLabels(drawn: readonly Named[]): Label[] {
  const out: Label[] = [];
  const taken: Box[] = [];
  drawn.forEach((n, i) => {
    const w = n.name.length * LETTER;
    const { x, y, w: hw, h: hh } = n.hull;
    if (hw < w + 2 * AIR || hh < HEIGHT) return;
    const over = drawn.slice(i + 1).map((o) => o.hull);
    const xs = [x + hw / 2, x + AIR + w / 2, x + hw - AIR - w / 2];
    const ys = [y + hh / 2, y + AIR + HEIGHT / 2, y + hh - AIR - HEIGHT / 2];
    for (const cy of ys)
      for (const cx of xs) {
        const box = { x: cx - w / 2, y: cy - HEIGHT / 2, w, h: HEIGHT };
        if ([...over, ...taken].some((b) => meets(b, box))) continue;
        taken.push(box);
        out.push({ id: n.id, name: n.name, x: cx, y: cy });
        return;
      }
  });
  return out;
}
