import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";

import { api } from "../../api/client";
import type { Gap, SolidOut, ThingOut } from "../../api/schema";
import { worst } from "../../app/Concerns";
import { useUi } from "../../app/desk";
import type { SheetProps } from "../../app/Workroom";
import { Dimension } from "../../sheet/Dimension";
import { Hatch } from "../../sheet/Hatch";
import { useSize } from "../../sheet/useSize";
import { Button } from "../../ui/Button";
import { brief, show } from "../../ui/number";
import { add, layOut, lift, type Pane, project, tenth, type V3 } from "./panes";
import type { Box } from "../../sheet/Slip";
import { ThingSlip } from "./ThingSlip";

const NORMAL: Record<string, 0 | 1 | 2> = { left: 0, right: 0, front: 1, back: 1, top: 2, bottom: 2 };

interface Hand {
  id: string;
  by: V3;
}

/** Plan, front and side of the one arrangement: grab a thing in any of them. */
export function BenchSheet({ state, act }: SheetProps) {
  const [box, size] = useSize<HTMLDivElement>();
  const { selected, select } = useUi();
  const [hand, setHand] = useState<Hand | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const nudged = useRef<Hand | null>(null);
  const view = state.view;
  const panes = layOut(view.shell.outer_mm as V3, size);
  const at = selected[0];
  const thing = view.things.find((t) => t.id === at);
  const moving = hand && view.things.find((t) => t.id === hand.id);

  const target = (t: ThingOut, by: V3): V3 => add(t.at_mm as V3, by).map(tenth) as V3;
  const gaps = useGaps(state.id, state.version, moving ?? thing, hand ? hand.by : [0, 0, 0]);

  const offset = (t: ThingOut): V3 => {
    let on: ThingOut | undefined = t;
    while (on && hand) {
      if (on.id === hand.id) return hand.by;
      const below: string | null | undefined = on.rides_on;
      on = below ? view.things.find((x) => x.id === below) : undefined;
    }
    return [0, 0, 0];
  };
  const held = (t: ThingOut, by: V3): V3 => {
    if (t.face) by[NORMAL[t.face]!] = 0;
    return by.map(tenth) as V3;
  };
  const drop = async (t: ThingOut, by: V3) => {
    if (by.some((v) => Math.abs(v) >= 0.05))
      await act.edit([{ do: "move", id: t.id, to_mm: target(t, by) }], `move ${t.name}`);
    nudged.current = null;
    setHand(null);
  };
  /** Arrow keys: shown at once, kept when the keys rest. */
  const nudge = (t: ThingOut, by: V3) => {
    // two presses may come before the drawing is done anew: what the first one did is kept aside
    const before = nudged.current?.id === t.id ? nudged.current.by : ([0, 0, 0] as V3);
    const next = held(t, add(before, by));
    nudged.current = { id: t.id, by: next };
    setHand(nudged.current);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void drop(t, next), 350);
  };

  if (view.things.length === 0)
    return (
      <div className="grid h-full place-items-center p-8 text-center">
        <div>
          <h2 className="mb-2 text-xl">The bench is empty</h2>
          <p className="mb-4 max-w-sm text-soft">
            Put the components down first, push them together until air, plugs and fingers still have room;
            then draw the walls round them.
          </p>
          <Link className="text-plum underline" to={`/designs/${state.id}/parts`}>
            Open the drawer of parts
          </Link>
        </div>
      </div>
    );

  const plan = panes[0]!;
  const front = panes[1]!;
  const side = panes[2]!;
  const [w, d, h] = view.shell.outer_mm as V3;

  return (
    <div ref={box} className="relative h-full">
      <svg
        width={size.w}
        height={size.h}
        className="block touch-none select-none"
        aria-label="Plan, front and side of the arrangement"
        role="group"
        onPointerDown={(e) => {
          if (e.target === e.currentTarget) select([]);
        }}
      >
        <Hatch />
        {panes.map((p) => (
          <CasePane key={p.key} pane={p} state={state} />
        ))}
        {panes.map((p) =>
          [...view.things]
            .sort((a, b) => depth(a, p) - depth(b, p))
            .map((t) => (
              <Piece
                key={`${p.key}-${t.id}`}
                pane={p}
                thing={t}
                by={offset(t)}
                selected={selected.includes(t.id)}
                worst={worst(state, t.id)}
                onGrab={() => {
                  select([t.id]);
                }}
                onDrag={(dx, dy) => {
                  setHand({ id: t.id, by: held(t, lift(p, dx, dy)) });
                }}
                onDrop={(dx, dy) => void drop(t, held(t, lift(p, dx, dy)))}
                onNudge={(dx, dy) => {
                  const by: V3 = [0, 0, 0];
                  by[p.right] = dx;
                  by[p.up] = dy;
                  nudge(t, by);
                }}
                onKey={(key) => {
                  if (key === "r" && !t.face)
                    void act.edit([{ do: "turn", id: t.id, by: 90 }], `turn ${t.name}`);
                  if (key === "Delete") void act.edit([{ do: "remove", id: t.id }], `take ${t.name} out`);
                }}
              />
            )),
        )}
        {view.leads.map((l) => (
          <LeadLine key={l.id} panes={panes} start={l.start as V3} end={l.end as V3} />
        ))}
        {(moving ?? thing) && gaps.map((g) => <GapLines key={`${g.of}-${g.side}`} panes={panes} gap={g} />)}
        <Dimension x1={plan.x} y1={plan.y} x2={plan.x + plan.w} y2={plan.y} off={26} text={brief(w, 1)} />
        <Dimension x1={plan.x} y1={plan.y + plan.h} x2={plan.x} y2={plan.y} off={26} text={brief(d, 1)} />
        <Dimension
          x1={front.x}
          y1={front.y + front.h}
          x2={front.x}
          y2={front.y}
          off={26}
          text={brief(h, 1)}
        />
        <Dimension x1={side.x} y1={side.y} x2={side.x + side.w} y2={side.y} off={26} text={brief(h, 1)} />
      </svg>
      {thing && !hand && (
        <ThingSlip
          state={state}
          act={act}
          thing={thing}
          beside={hullOf(thing, plan)}
          avoid={[
            { x: size.w - 240, y: size.h - 50, w: 240, h: 50 },
            ...panes,
            ...view.things.map((t) => hullOf(t, plan)),
          ]}
          within={size}
          onClose={() => {
            select([]);
          }}
        />
      )}
      <div className="absolute right-3 bottom-2 flex gap-2">
        <Button onClick={() => void act.edit([{ do: "fit-cavity" }], "draw the walls round the parts")}>
          Draw the walls round the parts
        </Button>
      </div>
      <p className="absolute bottom-2.5 left-4 max-w-[24rem] text-[11.5px] leading-tight text-soft">
        Drag in any view. Arrow keys nudge by 1 mm, with Shift by 0.1; R turns, Delete takes out.
      </p>
    </div>
  );
}

function depth(t: ThingOut, p: Pane): number {
  const axis = p.key === "plan" ? 2 : p.key === "front" ? 1 : 0;
  // what rides on another thing is drawn over it
  const rider = t.rides_on ? 1000 : 0;
  if (p.key === "front") return rider - Math.min(...t.solids.map((s) => s.lo[axis]));
  return rider + Math.max(...t.solids.map((s) => s.hi[axis]));
}

/** Gaps of a thing as it stands, or where the hand holds it; asked of the core, newest question first. */
function useGaps(id: string, version: number, thing: ThingOut | null | undefined, by: V3): Gap[] {
  const to = thing ? (add(thing.at_mm as V3, by).map(tenth) as V3) : null;
  const q = useQuery({
    queryKey: ["gaps", id, version, thing?.id, to],
    enabled: !!to,
    staleTime: 60_000,
    placeholderData: keepPreviousData, // the last lines stay until the new ones are there
    gcTime: 5_000,
    queryFn: async ({ signal }) => {
      const { data } = await api.POST("/api/designs/{id}/gaps", {
        params: { path: { id } },
        body: { thing: thing!.id, to_mm: to! },
        signal,
      });
      return (data?.gaps ?? []) as Gap[];
    },
  });
  return thing ? (q.data ?? []).filter((g) => g.of === thing.id) : [];
}

function CasePane({ pane: p, state }: { pane: Pane; state: SheetProps["state"] }) {
  const { shell, openings } = state.view;
  const [lo, hi] = [shell.cavity[0], shell.cavity[1]] as [V3, V3];
  const a = project(p, lo);
  const b = project(p, hi);
  const r = p.key === "plan" ? Math.min(state.design.shell.corner_radius_mm * p.k, p.w / 2) : 2;
  const ri = p.key === "plan" ? shell.inner_radius_mm * p.k : 0;
  const wall = `M${p.x} ${p.y}h${p.w}v${p.h}h${-p.w}Z`;
  const joint = shell.joint_z_mm;
  return (
    <g pointerEvents="none">
      <text
        x={p.x}
        y={p.y - (p.key === "front" ? 8 : 42)}
        className="font-head"
        fontSize="12"
        fill="var(--soft)"
      >
        {p.label}
      </text>
      <rect
        x={p.x}
        y={p.y}
        width={p.w}
        height={p.h}
        rx={r}
        fill="url(#cut)"
        stroke="var(--ink)"
        strokeWidth="1.3"
      />
      <rect
        x={a[0]}
        y={b[1]}
        width={b[0] - a[0]}
        height={a[1] - b[1]}
        rx={ri}
        fill="var(--leaf)"
        stroke="var(--ink)"
        strokeWidth="0.8"
      />
      {p.key === "front" && (
        <path
          d={`M${p.x - 8} ${p.y + p.h - joint * p.k}h${p.w + 16}`}
          stroke="var(--plum)"
          strokeDasharray="10 3 2 3"
          strokeWidth="1"
        />
      )}
      {p.key === "side" && (
        <path
          d={`M${p.x + joint * p.k} ${p.y - 8}v${p.h + 16}`}
          stroke="var(--plum)"
          strokeDasharray="10 3 2 3"
        />
      )}
      {p.key === "plan" &&
        shell.bosses.map((s) => {
          const c = project(p, [s.at[0], s.at[1], 0]);
          return (
            <g key={s.at.join()} stroke="var(--plum)" fill="var(--plumwash)">
              <circle cx={c[0]} cy={c[1]} r={(s.od_mm / 2) * p.k} />
              <circle cx={c[0]} cy={c[1]} r={(s.hole_mm / 2) * p.k} fill="var(--leaf)" />
            </g>
          );
        })}
      {p.key === "plan" &&
        openings.openings
          .filter((o) => o.plug && o.face !== "top" && o.face !== "bottom")
          .map((o) => {
            const port = state.view.things.flatMap((t) => t.ports).find((q) => q.ref === o.id);
            if (!port) return null;
            const half = (o.size_mm[0] / 2) * p.k;
            const c = project(p, port.centre as V3);
            const upright = o.face === "left" || o.face === "right";
            const x = o.face === "left" ? p.x : o.face === "right" ? b[0] : c[0] - half;
            const y = o.face === "front" ? a[1] : o.face === "back" ? p.y : c[1] - half;
            const t = upright ? a[0] - p.x : p.y + p.h - a[1];
            return (
              <rect
                key={o.id}
                x={x}
                y={y}
                width={upright ? t : 2 * half}
                height={upright ? 2 * half : t}
                fill="var(--leaf)"
                stroke="var(--ink)"
                strokeWidth="0.7"
              />
            );
          })}
      <path d={wall} fill="none" />
    </g>
  );
}

const FILL: Record<string, string> = {
  board: "color-mix(in srgb, var(--verdigris) 16%, var(--leaf))",
  body: "color-mix(in srgb, var(--slate) 20%, var(--leaf))",
  connector: "color-mix(in srgb, var(--slate) 8%, var(--leaf))",
  pins: "none",
  plug: "url(#soft)",
  keepout: "url(#soft)",
};

function Piece(props: {
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
  const tone = props.selected
    ? "var(--plum)"
    : props.worst === "stop"
      ? "var(--vermilion)"
      : props.worst === "weigh"
        ? "var(--saffron)"
        : "var(--ink)";
  const hull = hullOf(t, p, by);
  const big = hull.w > 44 && hull.h > 15;
  return (
    <g
      role="button"
      tabIndex={0}
      data-focusable
      aria-label={`${t.name} in ${p.label.toLowerCase()}, at ${t.at_mm.map((v) => brief(v, 1)).join(", ")} mm`}
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
      {big && (
        <text
          x={p.key === "plan" ? hull.x + 6 : hull.x + hull.w / 2}
          y={hull.y + hull.h / 2}
          textAnchor={p.key === "plan" ? "start" : "middle"}
          dominantBaseline="central"
          fontSize="12"
          fontWeight={props.selected ? 600 : 500}
          fill={tone}
          stroke="var(--leaf)"
          strokeWidth="3"
          paintOrder="stroke"
          pointerEvents="none"
        >
          {t.name}
        </text>
      )}
    </g>
  );
}

function order(s: SolidOut, p: Pane): number {
  if (s.role === "plug" || s.role === "keepout") return -1e6;
  return p.key === "plan" ? s.hi[2] : p.key === "front" ? -s.lo[1] : s.hi[0];
}

/** The paper a thing takes up in a view, without its soft shapes. */
function hullOf(t: ThingOut, p: Pane, by: V3 = [0, 0, 0]): Box {
  const hard = t.solids.filter((s) => s.role !== "plug" && s.role !== "keepout").map((s) => rect(p, s, by));
  const x = Math.min(...hard.map((q) => q.x));
  const y = Math.min(...hard.map((q) => q.y));
  return { x, y, w: Math.max(...hard.map((q) => q.r)) - x, h: Math.max(...hard.map((q) => q.b)) - y };
}

function rect(p: Pane, s: SolidOut, by: V3) {
  const a = project(p, add(s.lo as V3, by));
  const b = project(p, add(s.hi as V3, by));
  return {
    x: Math.min(a[0], b[0]),
    y: Math.min(a[1], b[1]),
    r: Math.max(a[0], b[0]),
    b: Math.max(a[1], b[1]),
  };
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

/** Gaps in every view whose paper shows their axis. */
function GapLines({ panes, gap: g }: { panes: Pane[]; gap: Gap }) {
  const axis = NORMAL[g.side]!;
  const short = g.gap_mm < g.limit_mm - 0.001;
  const tone = g.gap_mm < 0 ? "var(--vermilion)" : short ? "var(--saffron)" : "var(--verdigris)";
  return (
    <>
      {panes
        .filter((p) => p.right === axis || p.up === axis)
        .map((p) => {
          const a = project(p, g.start as V3);
          const b = project(p, g.end as V3);
          return (
            <Dimension
              key={p.key}
              x1={a[0]}
              y1={a[1]}
              x2={b[0]}
              y2={b[1]}
              tone={tone}
              text={show(g.gap_mm, 1)}
            />
          );
        })}
    </>
  );
}

function LeadLine({ panes, start, end }: { panes: Pane[]; start: V3; end: V3 }) {
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
