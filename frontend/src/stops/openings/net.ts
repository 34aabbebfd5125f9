/** The case unfolded: six faces laid flat, joined at their edges, with the front in the middle; or one face large by itself. */

export const FACES = ["front", "back", "left", "right", "top", "bottom"] as const;
/** A face by its id; the net shows those of a box. */
export type Face = string;

/** u right, v up, mm, as the face is seen from outside. */
export type Point = readonly [number, number];

export interface Net {
  k: number;
  x: number;
  y: number;
  size: [number, number, number];
  inside: boolean;
  /** The one face that is shown; all of them where it is null. */
  large: Face | null;
}

/** The row of buttons in the sheet's upper right corner with some air round it, px. */
const BUTTONS = { w: 352, h: 52 };

/** Lay the net out on so many pixels. Seen from inside it is its own mirror image. */
export function layOut(
  size: [number, number, number],
  sheet: { w: number; h: number },
  inside: boolean,
  large: Face | null = null,
): Net {
  const [w, d, h] = size;
  const margin = 34;
  if (large) {
    const [fw, fh] = sizeOf(size, large);
    const room = { w: sheet.w - 4 * margin, h: sheet.h - 5 * margin }; // dimensions and buttons stand round it
    const k = Math.max(0.2, Math.min(room.w / fw, room.h / fh));
    return { k, size, inside, large, x: (sheet.w - fw * k) / 2, y: (sheet.h - fh * k) / 2 };
  }
  const down = 2 * d + 2 * h;
  const within = (top: number) =>
    Math.max(0.2, Math.min((sheet.w - 2 * margin) / (w + 2 * d), (sheet.h - margin - top) / down));
  // the back comes out under the buttons, or beside them where it is narrow
  const top = (sheet.w + w * within(margin)) / 2 > sheet.w - BUTTONS.w ? BUTTONS.h : margin;
  const k = within(top);
  return {
    k,
    size,
    inside,
    large: null,
    x: (sheet.w - w * k) / 2,
    y: top + (sheet.h - margin - top - down * k) / 2 + (d + h) * k,
  };
}

/** A point of a face (u right, v up, seen from outside) on the paper. */
export function toPaper(n: Net, face: Face, u: number, v: number): [number, number] {
  const [w, d, h] = n.size;
  const { k, x, y } = n;
  if (n.large) {
    const [fw, fh] = faceSize(n, n.large);
    return [x + (n.inside ? fw - u : u) * k, y + (fh - v) * k];
  }
  const flat: Record<string, [number, number]> = {
    front: [x + u * k, y + (h - v) * k],
    left: [x - (d - u) * k, y + (h - v) * k],
    right: [x + (w + u) * k, y + (h - v) * k],
    top: [x + u * k, y - v * k],
    bottom: [x + u * k, y + (h + d - v) * k],
    back: [x + (w - u) * k, y - (d + h - v) * k],
  };
  const [px, py] = flat[face] ?? [x, y];
  return [n.inside ? 2 * x + w * k - px : px, py];
}

/** A move on the paper as a move on a face, mm. */
export function onFace(n: Net, face: Face, dx: number, dy: number): [number, number] {
  const turned = face === "back" && !n.large; // unfolded, the back stands on its head
  const sign = (turned ? -1 : 1) * (n.inside ? -1 : 1);
  return [(sign * dx) / n.k, ((turned ? 1 : -1) * dy) / n.k];
}

/** Where on a face a point of the paper lies, mm. */
export function pointOnFace(n: Net, face: Face, px: number, py: number): [number, number] {
  const [x0, y0] = toPaper(n, face, 0, 0);
  return onFace(n, face, px - x0, py - y0);
}

export function faceSize(n: Net, face: Face): [number, number] {
  return sizeOf(n.size, face);
}

function sizeOf([w, d, h]: Net["size"], face: Face): [number, number] {
  if (face === "front" || face === "back") return [w, h];
  return face === "left" || face === "right" ? [d, h] : [w, d];
}

/** A rectangle on a face by two corners, on the paper. */
export function faceRect(n: Net, face: Face, u0: number, v0: number, u1: number, v1: number) {
  const a = toPaper(n, face, u0, v0);
  const b = toPaper(n, face, u1, v1);
  return {
    x: Math.min(a[0], b[0]),
    y: Math.min(a[1], b[1]),
    width: Math.abs(b[0] - a[0]),
    height: Math.abs(b[1] - a[1]),
  };
}
