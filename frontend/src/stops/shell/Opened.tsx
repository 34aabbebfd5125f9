import type { ReactNode } from "react";

import type { StateOut } from "../../api/schema";

export const UNDER = 20; // mm that printed feet come out by
const CLEAR = 60; // mm that all else comes out by, beyond the way it is put on

/** How far the part that comes off highest is lifted when the case is opened so far, mm. */
export function lifted(state: StateOut, open: number): number {
  const up = state.view.stands.frame[3];
  const ways = state.view.case.parts.flatMap((q) =>
    q.put_on && q.put_on.along.reduce((sum, a, i) => sum + a * up[i]!, 0) < -0.5 ? [q.put_on] : [],
  );
  return ways.length ? open * (CLEAR + Math.max(...ways.map((w) => w.travel_mm))) : 0;
}

/** How far a part is moved when the case is opened: the way it is put on, backwards, and clear of what it sat on. */
function opened(state: StateOut, part: string | null, open: number): [number, number, number] {
  const way = state.view.case.parts.find((q) => q.name === part)?.put_on;
  const clear = (way?.along[2] ?? 0) > 0.5 ? UNDER : CLEAR; // what is put on from below has the case over it
  const out = way ? -open * (clear + way.travel_mm) : 0;
  const [x = 0, y = 0, z = 0] = (way?.along ?? []).map((a) => a * out);
  return [x, y, z];
}

export const TURNED = (110 * Math.PI) / 180; // a lid on hinges that is open as far as the slider goes

/** Where a part is when the case is opened, and all that goes along with it: moved the way it is put on, or turned about its hinges. */
export function Opened({
  state,
  part,
  open,
  children,
}: {
  state: StateOut;
  part: string | null;
  open: number;
  children: ReactNode;
}) {
  const { hinge, parts } = state.view.case;
  const way = parts.find((q) => q.name === part)?.put_on;
  if (!hinge?.pins.length || (way?.along[2] ?? 0) > -0.5)
    return <group position={opened(state, part, open)}>{children}</group>;
  const [px, py, pz] =
    hinge.axis === 0 ? [0, hinge.across_mm, hinge.high_mm] : [hinge.across_mm, 0, hinge.high_mm];
  const [rx, ry, rz] = hinge.turns.map((t) => t * TURNED * open);
  return (
    <group position={[px, py, pz]}>
      <group rotation={[rx ?? 0, ry ?? 0, rz ?? 0]}>
        <group position={[-px, -py, -pz]}>{children}</group>
      </group>
    </group>
  );
}
