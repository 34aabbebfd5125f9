import type { SheetProps } from "../../desk/sheetProps";
import { type Pane, project } from "./panes";

/** What holds the case, seen from above: beams in the corners, columns, lugs, hooks. */
export function Columns({ pane: p, made }: { pane: Pane; made: SheetProps["state"]["view"]["case"] }) {
  const side = made.pillar_mm;
  const [lo, hi] = made.cavity;
  const corners =
    side > 0 ? [lo[0], hi[0] - side].flatMap((x) => [lo[1], hi[1] - side].map((y) => [x, y])) : [];
  const box = (key: string, from: readonly number[], to: readonly number[]) => {
    const [a, b] = [project(p, [from[0]!, from[1]!, 0]), project(p, [to[0]!, to[1]!, 0])];
    return (
      <rect
        key={key}
        x={a[0]}
        y={b[1]}
        width={b[0] - a[0]}
        height={a[1] - b[1]}
        fill="var(--plumwash)"
        stroke="var(--plum)"
        strokeWidth="0.8"
      />
    );
  };
  return (
    <>
      {corners.map((c) => box(c.join(), c, [c[0]! + side, c[1]! + side]))}
      {made.snaps.map((s) => box(s.id, s.boss[0], s.boss[1]))}
      {[...made.joints, ...made.magnets.map((m) => ({ ...m, hole_mm: m.into_pocket_mm }))].map((s) => {
        const c = project(p, [s.at[0], s.at[1], 0]);
        const upright = s.along[2] !== 0;
        if (side > 0 && !upright) return null; // it is within a beam
        return upright ? (
          <g key={s.id} stroke="var(--plum)" fill="var(--plumwash)">
            {side === 0 && <circle cx={c[0]} cy={c[1]} r={(s.od_mm / 2) * p.k} />}
            <circle cx={c[0]} cy={c[1]} r={(s.hole_mm / 2) * p.k} fill="var(--leaf)" />
          </g>
        ) : (
          box(s.id, s.boss[0], s.boss[1])
        );
      })}
    </>
  );
}
