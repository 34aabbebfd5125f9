import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";

import { api, type Edit } from "../../api/client";
import type { Gap, ThingOut } from "../../api/schema";
import { worst } from "../../desk/worst";
import { useUi } from "../../desk/desk";
import type { SheetProps } from "../../desk/sheetProps";
import { tryEdit } from "../../desk/tryEdit";
import { useHeld, useTried } from "../../desk/useTried";
import { Dimension } from "../../sheet/Dimension";
import { Hatch } from "../../sheet/Hatch";
import { BUTTONS } from "../../sheet/Slip";
import { useSize } from "../../sheet/useSize";
import { Button } from "../../ui/Button";
import { brief } from "../../ui/number";
import { Columns } from "./Columns";
import { ghostOf } from "../../sheet/ghost";
import { hullOf, rect } from "./hull";
import { GapLines, LeadLine } from "./lines";
import { add, type V3 } from "../../sheet/vector";
import { extentOf, layOut, lift, NORMAL, type Pane, project, tenth } from "./panes";
import { placeLabels } from "./labels";
import { Rails } from "./Rails";
import { Piece, toneOf } from "./Piece";
import { ThingSlip } from "./ThingSlip";
import { closer, FIT, shifted, type Zoom, zoomed } from "./zoom";

interface Hand {
  id: string;
  by: V3;
}

const SIDE = {
  front: "front",
  back: "back",
  left: "left side",
  right: "right side",
  bottom: "floor",
} as const;

/** Plan, front and side of the one arrangement: grab a thing in any of them. */
export function BenchSheet({ state, act }: SheetProps) {
  const [box, size] = useSize<HTMLDivElement>();
  const { selected, select } = useUi();
  const [hand, setHand] = useState<Hand | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const nudged = useRef<Hand | null>(null);
  const view = state.view;
  const { ask, rest, drop: forget } = useTried(state.id, state.version, tryEdit);
  const there = useHeld(state) ?? state; // where the hand has it
  const all = view.things.flatMap((t) => t.solids.map((s) => ({ lo: s.lo, hi: s.hi })));
  const [zoom, setZoom] = useState<Zoom>(FIT);
  const grip = useRef<{ x: number; y: number } | null>(null);
  const panes = zoomed(layOut(view.case.box_mm, size, extentOf(view.case.box_mm, all)), zoom);
  const near = (factor: number) => {
    setZoom(closer(zoom, factor, size.w / 2, size.h / 2, size));
  };
  const at = selected[0];
  const thing = view.things.find((t) => t.id === at);
  const ghost = ghostOf(
    useUi((s) => s.ghost),
    view.things,
    view.case.box_mm,
  );
  const moving = hand && view.things.find((t) => t.id === hand.id);

  /** Only the coordinates that a hand has changed: the others may have been typed a moment ago. */
  const changed = ([x, y, z]: V3, by: V3): [number | null, number | null, number | null] => [
    by[0] ? x : null,
    by[1] ? y : null,
    by[2] ? z : null,
  ];
  const target = (t: ThingOut, by: V3): V3 => add(t.at_mm, by).map(tenth) as V3;
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
  const moved = (t: ThingOut, by: V3): Edit | null =>
    by.some((v) => Math.abs(v) >= 0.05) ? { do: "move", id: t.id, to_mm: changed(target(t, by), by) } : null;
  /** In the hand, not let go yet. */
  const carry = (t: ThingOut, by: V3) => {
    setHand({ id: t.id, by });
    const edit = moved(t, by);
    if (edit) void ask(edit);
    else forget();
  };
  const back = () => {
    forget();
    nudged.current = null;
    setHand(null);
  };
  const drop = async (t: ThingOut, by: V3) => {
    const edit = moved(t, by);
    rest();
    if (edit) await act.edit([edit], `move ${t.name}`);
    back();
  };
  /** Arrow keys: shown at once, kept when the keys rest. */
  const nudge = (t: ThingOut, by: V3) => {
    // two presses may come before the drawing is done anew: what the first one did is kept aside
    const before = nudged.current?.id === t.id ? nudged.current.by : ([0, 0, 0] as V3);
    const next = held(t, add(before, by));
    nudged.current = { id: t.id, by: next };
    carry(t, next);
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
            Open the library
          </Link>
        </div>
      </div>
    );

  const plan = panes[0]!;
  const front = panes[1]!;
  const side = panes[2]!;
  const [w, d, h] = view.case.box_mm;

  return (
    <div ref={box} className="relative h-full">
      <svg
        width={size.w}
        height={size.h}
        className="block touch-none select-none"
        aria-label="Plan, front and side of the arrangement"
        role="group"
        onPointerDown={(e) => {
          if (e.target !== e.currentTarget) return;
          select([]);
          grip.current = { x: e.clientX, y: e.clientY };
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          if (!grip.current) return;
          setZoom(shifted(zoom, e.clientX - grip.current.x, e.clientY - grip.current.y, size));
          grip.current = { x: e.clientX, y: e.clientY };
        }}
        onPointerUp={() => {
          grip.current = null;
        }}
        onWheel={(e) => {
          const at = e.currentTarget.getBoundingClientRect();
          setZoom(closer(zoom, Math.exp(-e.deltaY / 400), e.clientX - at.left, e.clientY - at.top, size));
        }}
      >
        <Hatch />
        {panes.map((p) => (
          <CasePane key={p.key} pane={p} state={there} />
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
                worst={worst(there, t.id)}
                onGrab={() => {
                  select([t.id]);
                }}
                onDrag={(dx, dy) => {
                  carry(t, held(t, lift(p, dx, dy)));
                }}
                onDrop={(dx, dy) => void drop(t, held(t, lift(p, dx, dy)))}
                onBack={back}
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
        {panes.map((p) => {
          const drawn = [...view.things].sort((a, b) => depth(a, p) - depth(b, p));
          const named = drawn.map((t) => ({ id: t.id, name: t.name, hull: hullOf(t, p, offset(t)) }));
          return placeLabels(named).map((l) => (
            <text
              key={`${p.key}-${l.id}`}
              x={l.x}
              y={l.y}
              aria-hidden
              textAnchor="middle"
              dominantBaseline="central"
              fontSize="12"
              fontWeight={selected.includes(l.id) ? 600 : 500}
              fill={toneOf(selected.includes(l.id), worst(there, l.id))}
              stroke="var(--leaf)"
              strokeWidth="3"
              paintOrder="stroke"
              pointerEvents="none"
            >
              {l.name}
            </text>
          ));
        })}
        {panes.map((p) => (
          <g key={`ghost-${p.key}`} data-ghost={p.key} aria-hidden pointerEvents="none">
            {ghost.solids.map((s, i) => {
              const q = rect(p, s, [0, 0, 0]);
              return (
                <rect
                  key={i}
                  {...{ x: q.x, y: q.y, width: q.r - q.x, height: q.b - q.y }}
                  fill="var(--plum)"
                  fillOpacity="0.08"
                  stroke="var(--plum)"
                  strokeDasharray="4 3"
                />
              );
            })}
            {ghost.box && (
              <rect
                {...((q) => ({ x: q.x, y: q.y, width: q.r - q.x, height: q.b - q.y }))(
                  rect(p, ghost.box, [0, 0, 0]),
                )}
                fill="none"
                stroke="var(--plum)"
                strokeDasharray="6 4"
              />
            )}
          </g>
        ))}
        {there.view.leads.map((l) => (
          <LeadLine key={l.id} panes={panes} start={l.start} end={l.end} />
        ))}
        {(moving ?? thing) && gaps.map((g) => <GapLines key={`${g.of}-${g.side}`} panes={panes} gap={g} />)}
        <Dimension
          x1={plan.x}
          y1={plan.y}
          x2={plan.x + plan.w}
          y2={plan.y}
          off={26}
          text={brief(w, 1)}
          name="Outer width"
        />
        <Dimension
          x1={plan.x}
          y1={plan.y + plan.h}
          x2={plan.x}
          y2={plan.y}
          off={26}
          text={brief(d, 1)}
          name="Outer depth"
        />
        <Dimension
          x1={front.x}
          y1={front.y + front.h}
          x2={front.x}
          y2={front.y}
          off={26}
          text={brief(h, 1)}
          name="Outer height, front"
        />
        <Dimension
          x1={side.x}
          y1={side.y}
          x2={side.x + side.w}
          y2={side.y}
          off={26}
          text={brief(h, 1)}
          name="Outer height, side"
        />
      </svg>
      {thing && !hand && (
        <ThingSlip
          state={state}
          act={act}
          thing={thing}
          beside={hullOf(thing, plan)}
          avoid={[
            { x: size.w - 420, y: size.h - 50, w: 420, h: 50, times: BUTTONS },
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
        <div role="group" aria-label="Look closer" className="flex gap-1">
          <Button
            aria-label="Closer"
            title="Closer, or turn the wheel"
            onClick={() => {
              near(1.5);
            }}
          >
            +
          </Button>
          <Button
            aria-label="Farther"
            disabled={zoom.times <= 1}
            onClick={() => {
              near(1 / 1.5);
            }}
          >
            −
          </Button>
          <Button
            disabled={zoom.times <= 1}
            onClick={() => {
              setZoom(FIT);
            }}
          >
            Fit
          </Button>
        </div>
        <Button onClick={() => void act.edit([view.walls_round], "draw the walls round the components")}>
          Draw the walls round them
        </Button>
      </div>
      <p className="pointer-events-none absolute bottom-2.5 left-4 max-w-[21rem] max-[1180px]:max-w-[17.5rem] max-[900px]:bottom-12 max-[900px]:max-w-none text-[11.5px] leading-tight text-soft">
        {view.case.stands_on !== "bottom" &&
          `The case stands on its ${SIDE[view.case.stands_on]}: it is drawn with its floor below. `}
        Drag in any view. Arrow keys nudge by 1 mm, with Shift by 0.1; R turns, Delete takes out. The wheel
        looks closer.
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
  const to = thing ? (add(thing.at_mm, by).map(tenth) as V3) : null;
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
      return data?.gaps ?? [];
    },
  });
  return thing ? (q.data ?? []).filter((g) => g.of === thing.id) : [];
}

/** Where a wall of a side stands on the floor, corner to corner. */
function footing(
  w: SheetProps["state"]["view"]["case"]["walls"][number],
  box: readonly [number, number, number],
): [[number, number, number], [number, number, number]] {
  const [wide, deep] = box;
  const [lo, hi, t] = [w.lo_mm[0], w.hi_mm[0], w.depth_mm];
  switch (w.face) {
    case "front":
      return [
        [lo, 0, 0],
        [hi, t, 0],
      ];
    case "back":
      return [
        [wide - hi, deep - t, 0],
        [wide - lo, deep, 0],
      ];
    case "left":
      return [
        [0, deep - hi, 0],
        [t, deep - lo, 0],
      ];
    default:
      return [
        [wide - t, lo, 0],
        [wide, hi, 0],
      ];
  }
}

function CasePane({ pane: p, state }: { pane: Pane; state: SheetProps["state"] }) {
  const { case: made, openings } = state.view;
  const [lo, hi] = made.cavity;
  const a = project(p, lo);
  const b = project(p, hi);
  const r = p.key === "plan" ? made.outer_radius_mm * p.k : 2;
  const ri = p.key === "plan" ? made.inner_radius_mm * p.k : 0;
  const wall = `M${p.x} ${p.y}h${p.w}v${p.h}h${-p.w}Z`;
  const joint = made.seams.find((s) => s.axis === 2 && s.path)?.at_mm;
  // where no wall closes a side, only the floor and what stands on it is cut
  const closed = made.faces.every((f) => f.whole || f.id === "top");
  const floor = made.faces.find((f) => f.id === "bottom")?.thick_mm ?? 0;
  return (
    <g pointerEvents="none">
      <text
        x={p.x}
        y={Math.min(p.y - (p.key === "front" ? 8 : 42), p.top - 8)}
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
        fill={closed ? "url(#cut)" : "var(--leaf)"}
        stroke="var(--ink)"
        strokeWidth={closed || p.key === "plan" ? 1.3 : 0}
      />
      {!closed && p.key === "front" && (
        <rect
          x={p.x}
          y={p.y + p.h - floor * p.k}
          width={p.w}
          height={floor * p.k}
          fill="url(#cut)"
          stroke="var(--ink)"
        />
      )}
      {!closed && p.key === "side" && (
        <rect x={p.x} y={p.y} width={floor * p.k} height={p.h} fill="url(#cut)" stroke="var(--ink)" />
      )}
      {!closed &&
        p.key === "plan" &&
        made.walls
          .filter((w) => w.face !== "bottom")
          .map((w, i) => {
            const [from, to] = footing(w, made.box_mm);
            const [c, e] = [project(p, from), project(p, to)];
            return (
              <rect
                key={i}
                x={Math.min(c[0], e[0])}
                y={Math.min(c[1], e[1])}
                width={Math.abs(e[0] - c[0])}
                height={Math.abs(e[1] - c[1])}
                fill="url(#cut)"
                stroke="var(--ink)"
              />
            );
          })}
      <rect
        visibility={closed ? undefined : "hidden"}
        x={a[0]}
        y={b[1]}
        width={b[0] - a[0]}
        height={a[1] - b[1]}
        rx={ri}
        fill="var(--leaf)"
        stroke="var(--ink)"
        strokeWidth="0.8"
      />
      {p.key === "front" && joint !== undefined && (
        <path
          d={`M${p.x - 8} ${p.y + p.h - joint * p.k}h${p.w + 16}`}
          stroke="var(--plum)"
          strokeDasharray="10 3 2 3"
          strokeWidth="1"
        />
      )}
      {p.key === "side" && joint !== undefined && (
        <path
          d={`M${p.x + joint * p.k} ${p.y - 8}v${p.h + 16}`}
          stroke="var(--plum)"
          strokeDasharray="10 3 2 3"
        />
      )}
      {p.key === "plan" && <Columns pane={p} made={made} />}
      <Rails pane={p} made={made} />
      {p.key === "plan" &&
        openings.openings
          .filter((o) => o.plug && o.face !== "top" && o.face !== "bottom")
          .map((o) => {
            const port = state.view.things.flatMap((t) => t.ports).find((q) => q.ref === o.id);
            if (!port) return null;
            const half = (o.size_mm[0] / 2) * p.k;
            const c = project(p, port.centre);
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
