import { useRef } from "react";

import type { SolidOut, ThingOut } from "../../api/schema";
import { heard } from "../../desk/worst";
import { convexPath } from "../../sheet/convex";
import { brief } from "../../ui/number";
import { FILL } from "../parts/extent";
import { hullOf, order, rect } from "./hull";
import { add, type Pane, project, type V3 } from "./panes";

/** The colour that a thing is drawn in, and its name. */
export function toneOf(selected: boolean, worst: "stop" | "weigh" | "advice" | null): string {
  if (selected) return "var(--plum)";
  return worst === "stop" ? "var(--vermilion)" : worst === "weigh" ? "var(--saffron)" : "var(--ink)";
}

/** A thing in one view: grabbed with the hand or the keyboard. */
export function Piece(props: {
  pane: Pane;
  thing: ThingOut;
  by: V3;
  selected: boolean;
  worst: "stop" | "weigh" | "advice" | null;
  onGrab: () => void;
  onDrag: (dx: number, dy: number) => void;
  onDrop: (dx: number, dy: number) => void;
  onNudge: (right: number, up: number) => void;
  onKey: (key: string) => void;
}) {
  const { pane: p, thing: t, by } = props;
  const start = useRef<[number, number] | null>(null);
  const solids = [...t.solids].sort((a, b) => order(a, p) - order(b, p));
  const tone = toneOf(props.selected, props.worst);
  const hull = hullOf(t, p, by);
  return (
    <g
      role="button"
      tabIndex={0}
      data-focusable
      aria-label={`${t.name} in ${p.label.toLowerCase()}, at ${t.at_mm.map((v) => brief(v, 1)).join(", ")} mm${heard(props.worst)}`}
      aria-pressed={props.selected}
      className="cursor-grab active:cursor-grabbing"
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        start.current = [e.clientX, e.clientY];
        props.onGrab();
      }}
      onPointerMove={(e) => {
        if (!start.current) return;
        const [dx, dy] = [e.clientX - start.current[0], e.clientY - start.current[1]];
        if (Math.hypot(dx, dy) > 2) props.onDrag(dx, dy);
      }}
      onPointerUp={(e) => {
        if (!start.current) return;
        props.onDrop(e.clientX - start.current[0], e.clientY - start.current[1]);
        start.current = null;
      }}
      onKeyDown={(e) => {
        const step = e.shiftKey ? 0.1 : 1;
        const arrows: Record<string, [number, number]> = {
          ArrowLeft: [-step, 0],
          ArrowRight: [step, 0],
          ArrowUp: [0, step],
          ArrowDown: [0, -step],
        };
        const go = arrows[e.key];
        if (go) {
          e.preventDefault();
          props.onGrab();
          props.onNudge(...go);
        } else if (e.key === "Enter" || e.key === " ") {
          e.preventDefault();
          props.onGrab();
        } else if (e.key === "r" || e.key === "Delete") {
          e.stopPropagation();
          props.onKey(e.key);
        }
      }}
    >
      {solids.map((s) => (
        <SolidShape key={s.name} pane={p} solid={s} by={by} tone={tone} heavy={props.selected} />
      ))}
      <rect
        className="focusring"
        x={hull.x - 3}
        y={hull.y - 3}
        width={hull.w + 6}
        height={hull.h + 6}
        fill="none"
        opacity="0"
      />
    </g>
  );
}

function SolidShape({
  pane: p,
  solid: s,
  by,
  tone,
  heavy,
}: {
  pane: Pane;
  solid: SolidOut;
  by: V3;
  tone: string;
  heavy: boolean;
}) {
  const q = rect(p, s, by);
  const soft = s.role === "plug" || s.role === "keepout";
  const look = {
    fill: FILL[s.role] ?? "none",
    stroke: soft ? "var(--slate)" : tone,
    strokeWidth: heavy ? 1.6 : s.role === "board" || s.role === "body" ? 1.1 : 0.7,
    strokeDasharray: s.role === "pins" ? "2 2" : soft ? "5 3" : undefined,
  };
  const endOn = s.round_axis !== null && s.round_axis !== p.right && s.round_axis !== p.up;
  if (s.corners.length)
    return (
      <path d={convexPath(s.corners, (c) => project(p, add(c, by)))} {...look}>
        <title>{s.name}</title>
      </path>
    );
  return endOn ? (
    <circle cx={(q.x + q.r) / 2} cy={(q.y + q.b) / 2} r={(q.r - q.x) / 2} {...look}>
      <title>{s.name}</title>
    </circle>
  ) : (
    <rect x={q.x} y={q.y} width={Math.max(0.5, q.r - q.x)} height={Math.max(0.5, q.b - q.y)} {...look}>
      <title>{s.name}</title>
    </rect>
  );
}
