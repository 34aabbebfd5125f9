import type { SheetProps } from "../../desk/sheetProps";
import { type Pane, project } from "./panes";

/** Rails and bars that hold fans by slots, in every view. */
export function Rails({ pane: p, made }: { pane: Pane; made: SheetProps["state"]["view"]["case"] }) {
  return made.fan_slots.flatMap((f) =>
    f.rooms.map(([lo, hi], k) => {
      const [a, b] = [project(p, lo), project(p, hi)];
      return (
        <rect
          key={`${f.part}-${k}`}
          x={Math.min(a[0], b[0])}
          y={Math.min(a[1], b[1])}
          width={Math.abs(b[0] - a[0])}
          height={Math.abs(b[1] - a[1])}
          fill="var(--plumwash)"
          stroke="var(--plum)"
          strokeWidth="0.8"
        />
      );
    }),
  );
}
