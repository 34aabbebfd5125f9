import type { Gap } from "../../api/schema";
import { Dimension } from "../../sheet/Dimension";
import { brief, show } from "../../ui/number";
import type { V3 } from "../../sheet/vector";
import { NORMAL, type Pane, project } from "./panes";

/** Gaps in every view whose paper shows their axis. */
export function GapLines({ panes, gap: g }: { panes: Pane[]; gap: Gap }) {
  const axis = NORMAL[g.side]!;
  const short = g.gap_mm < g.limit_mm - 0.001;
  const tone = g.gap_mm < 0 ? "var(--vermilion)" : short ? "var(--saffron)" : "var(--verdigris)";
  return (
    <>
      {panes
        .filter((p) => p.right === axis || p.up === axis)
        .map((p) => {
          const a = project(p, g.start);
          const b = project(p, g.end);
          return (
            <Dimension
              key={p.key}
              x1={a[0]}
              y1={a[1]}
              x2={b[0]}
              y2={b[1]}
              tone={tone}
              name={`Gap on the ${g.side} side, seen in ${p.label.toLowerCase()}`}
              text={g.sure_mm > 0 ? `${show(g.gap_mm, 1)} ±${brief(g.sure_mm, 2)}` : show(g.gap_mm, 1)}
            />
          );
        })}
    </>
  );
}

/** A lead between its two ports, in every view. */
export function LeadLine({ panes, start, end }: { panes: Pane[]; start: V3; end: V3 }) {
  return (
    <g
      fill="none"
      stroke="var(--slate)"
      strokeWidth="1.2"
      strokeDasharray="1 3"
      strokeLinecap="round"
      pointerEvents="none"
    >
      {panes.map((p) => {
        const a = project(p, start);
        const b = project(p, end);
        return <path key={p.key} d={`M${a[0]} ${a[1]}C${a[0]} ${b[1]} ${a[0]} ${b[1]} ${b[0]} ${b[1]}`} />;
      })}
    </g>
  );
}
