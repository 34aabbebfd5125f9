import type { StateOut } from "../../api/schema";
import { lifted, TURNED, UNDER } from "./Opened";
import { stoodWay } from "./stance";

/** How large a case is with its handle, on the side that this stands on, and with what comes out under it. */
export function bowed(state: StateOut): [number, number, number] {
  const [w, d, h] = state.view.stands.size_mm;
  const bow = state.view.case.handle;
  const [x, y, z] = stoodWay(state, [0, 0, bow ? bow.room_mm + bow.bar_mm : 0]);
  return [w + Math.abs(x), d + Math.abs(y), h + low(state) + Math.abs(z)];
}

/** How far printed feet come out under a case that is wide open. */
export function low(state: StateOut): number {
  const { foot, feet } = state.view.case;
  return foot?.stud_mm && feet.length ? foot.high_mm + UNDER : 0;
}

const USUAL_OPEN = 0.35; // so far open there is room over the case for what is lifted

/** How high a lid on hinges stands over the case that is open so far, or what is lifted off it beyond the usual. */
export function raised(state: StateOut, open: number): number {
  const { hinge, box_mm } = state.view.case;
  if (!hinge?.pins.length) return Math.max(0, lifted(state, open) - lifted(state, USUAL_OPEN));
  const long = hinge.axis === 0 ? box_mm[1] : box_mm[0];
  return long * Math.sin(Math.min(TURNED * open, Math.PI / 2));
}

/** Room for two cases, whichever is larger. */
export function larger(a: StateOut, b: StateOut): [number, number, number, number] {
  const [p, q] = [bowed(a), bowed(b)];
  return [Math.max(p[0], q[0]), Math.max(p[1], q[1]), Math.max(p[2], q[2]), Math.max(reach(a), reach(b))];
}

/** How far parts come out level when the case is wide open, so that they stay in sight. */
export function reach(state: StateOut): number {
  const ways = state.view.case.parts.flatMap((p) => p.put_on ?? []);
  return Math.max(
    0,
    ...ways.map((w) => {
      const [x, y] = stoodWay(state, w.along);
      return Math.max(Math.abs(x), Math.abs(y)) * w.travel_mm;
    }),
  );
}
