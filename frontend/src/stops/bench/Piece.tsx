import { useRef } from "react";

import type { SolidOut, ThingOut } from "../../api/schema";
import { heard } from "../../desk/worst";
import { convexPath } from "../../sheet/convex";
import { brief } from "../../ui/number";
import { FILL } from "../parts/extent";
import { hullOf, order, rect } from "./hull";
import { add, type V3 } from "../../sheet/vector";
import { NORMAL, type Pane, project } from "./panes";

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
  /** The pointer is taken away, or the hand thinks better of it. */
  onBack: () => void;
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
      aria-label={`${t.name} in ${p.label.toLowerCase()}, at ${t.at_mm.map((v) => brief(v, 1)).join(", ")} mm${t.blows ? `, blows ${t.blows}` : ""}${heard(props.worst)}`}
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
      onPointerCancel={() => {
        start.current = null;
        props.onBack();
      }}
      onKeyDown={(e) => {
        if (e.key === "Escape" && start.current) {
          e.stopPropagation();
          start.current = null;
          props.onBack();
          return;
        }
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
      <Stream pane={p} thing={t} by={by} tone={tone} />
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

const ARROW = 13; // pixels before and behind the fan's middle

/** Which way a fan on a wall blows: an arrow through it where it is seen from the side. */
function Stream({ pane: p, thing: t, by, tone }: { pane: Pane; thing: ThingOut; by: V3; tone: string }) {
  const axis = t.face === null ? undefined : NORMAL[t.face];
  if (!t.blows || axis === undefined || (axis !== p.right && axis !== p.up)) return null;
  const box = t.solids.find((s) => s.role === "body");
  if (!box) return null;
  const middle = [0, 1, 2].map((i) => (box.lo[i]! + box.hi[i]!) / 2) as V3;
  const across = axis === p.right ? p.up : p.right;
  middle[across] -= 0.32 * (box.hi[across]! - box.lo[across]!); // beside the name
  const outward = t.face === "right" || t.face === "back" || t.face === "top";
  const ahead: V3 = [0, 0, 0];
  ahead[axis] = ((outward === (t.blows === "out") ? 1 : -1) * ARROW) / p.k;
  const [tip, tail] = [add(middle, ahead), add(middle, [-ahead[0], -ahead[1], -ahead[2]])].map((q) =>
    project(p, add(q, by)),
  ) as [[number, number], [number, number]];
  const [dx, dy] = [(tip[0] - tail[0]) / ARROW, (tip[1] - tail[1]) / ARROW]; // twice the unit
  return (
    <path
      d={`M${tail[0]} ${tail[1]}L${tip[0]} ${tip[1]}M${tip[0] - 2.5 * dx + 2 * dy} ${tip[1] - 2.5 * dy - 2 * dx}L${tip[0]} ${tip[1]}L${tip[0] - 2.5 * dx - 2 * dy} ${tip[1] - 2.5 * dy + 2 * dx}`}
      fill="none"
      stroke={tone}
      strokeWidth="1.4"
      aria-hidden
    >
      <title>{`blows ${t.blows}`}</title>
    </path>
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
