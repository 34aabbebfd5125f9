import { useRef, useState } from "react";

import type { Edit } from "../../api/client";
import { heard, worst } from "../../desk/worst";
import { useUi } from "../../desk/desk";
import type { SheetProps } from "../../desk/sheetProps";
import { Hatch } from "../../sheet/Hatch";
import { useSize } from "../../sheet/useSize";
import { Button } from "../../ui/Button";
import { brief } from "../../ui/number";
import { Dimension } from "../../sheet/Dimension";
import { AlignBar } from "./AlignBar";
import { type Face, faceRect, faceSize, FACES, layOut, type Net, onFace, pointOnFace, toPaper } from "./net";
import type { Mark } from "./mark";
import type { OwnOpening, Vent } from "../../api/schema";
import { OpeningSlip } from "./OpeningSlip";

const LABEL: Record<Face, string> = {
  front: "Front",
  back: "Back",
  left: "Left",
  right: "Right",
  top: "Top",
  bottom: "Bottom",
};

/** The case unfolded, with every opening true to size, its allowance and its plug. */
export function OpeningsSheet({ state, act }: SheetProps) {
  const [box, size] = useSize<HTMLDivElement>();
  const [inside, setInside] = useState(false);
  const [hand, setHand] = useState<{ id: string; du: number; dv: number } | null>(null);
  const { selected, select } = useUi();
  const { openings: op, case: made } = state.view;
  const net = layOut(made.box_mm, size, inside);
  const marks: Mark[] = [
    ...op.vents.map((o) => ({ kind: "vent" as const, o })),
    ...op.openings.map((o) => ({ kind: "opening" as const, o })),
  ];
  // in the order they were chosen: the first one stays, the others are brought in line with it
  const picked = selected.flatMap((id) => marks.filter((m) => m.o.id === id));
  const one = picked.length === 1 ? picked[0] : undefined;
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const add = async (face: Face, from: readonly [number, number], to: readonly [number, number]) => {
    const opening = freshOpening(state, face, from, to);
    if (await act.edit([{ do: "put-own-opening", opening }], "add an opening")) select([`own/${opening.id}`]);
  };
  const slipAt = one ? toPaper(net, one.o.face, one.o.at_mm[0], one.o.at_mm[1]) : [0, 0];

  const move = (m: Mark, du: number, dv: number): Edit | null => {
    // onto tenths of a millimetre of the face; a hole of a component that sits on the face moves with it
    const [u, v] = m.o.at_mm;
    const by_mm: [number, number] = [round(u + du) - u, round(v + dv) - v];
    return { do: "move-on-face", what: ownerOf(m) ?? m.o.id, by_mm };
  };
  const drop = async (m: Mark, du: number, dv: number) => {
    const edit = Math.hypot(du, dv) > 0.05 ? move(m, du, dv) : null;
    if (edit) await act.edit([edit], `move ${m.o.label}`);
    setHand(null);
  };

  return (
    <div ref={box} className="relative h-full">
      <svg
        width={size.w}
        height={size.h}
        className="block touch-none select-none"
        role="group"
        aria-label="The case unfolded"
        onPointerDown={(e) => {
          if (e.target === e.currentTarget) select([]);
        }}
      >
        <Hatch />
        {FACES.map((f) => (
          <FaceShape
            key={f}
            net={net}
            face={f}
            state={state}
            onDraw={(from, to) => {
              setDrawn({ face: f, from, to });
            }}
            onDrawn={(from, to) => {
              setDrawn(null);
              if (Math.min(Math.abs(to[0] - from[0]), Math.abs(to[1] - from[1])) >= LEAST_MM)
                void add(f, from, to);
              else select([]);
            }}
          />
        ))}
        {drawn && (
          <rect
            {...faceRect(
              net,
              drawn.face,
              Math.min(drawn.from[0], drawn.to[0]),
              Math.min(drawn.from[1], drawn.to[1]),
              Math.max(drawn.from[0], drawn.to[0]),
              Math.max(drawn.from[1], drawn.to[1]),
            )}
            fill="none"
            stroke="var(--plum)"
            strokeDasharray="5 3"
            pointerEvents="none"
          />
        )}
        {marks.map((m) => (
          <MarkShape
            key={m.o.id}
            net={net}
            mark={m}
            by={hand && (hand.id === m.o.id || sameOwner(hand.id, m, marks)) ? [hand.du, hand.dv] : [0, 0]}
            selected={selected.includes(m.o.id)}
            heard={heard(worst(state, m.o.id))}
            tone={toneOf(
              worst(state, m.o.id) ?? (m.kind === "vent" && !m.o.fan ? worst(state, "vents") : null),
            )}
            onGrab={(more) => {
              if (more)
                select(
                  selected.includes(m.o.id) ? selected.filter((s) => s !== m.o.id) : [...selected, m.o.id],
                );
              else if (!selected.includes(m.o.id)) select([m.o.id]);
            }}
            onDrag={(dx, dy) => {
              const [du, dv] = onFace(net, m.o.face, dx, dy);
              setHand({ id: m.o.id, du, dv });
            }}
            onDrop={(dx, dy) => void drop(m, ...onFace(net, m.o.face, dx, dy))}
            onNudge={(dx, dy) => void drop(m, ...onFace(net, m.o.face, dx * net.k, dy * net.k))}
          />
        ))}
        {one && !hand && <Place net={net} mark={one} />}
      </svg>
      {one && !hand && (
        <OpeningSlip
          state={state}
          act={act}
          mark={one}
          beside={{ x: slipAt[0]! - 20, y: slipAt[1]! - 20, w: 40, h: 40 }}
          avoid={[
            { x: size.w - 160, y: 0, w: 160, h: 60 }, // the button
            ...FACES.map((f) => {
              const r = faceRect(net, f, 0, 0, ...faceSize(net, f));
              return { x: r.x, y: r.y, w: r.width, h: r.height };
            }),
          ]}
          within={size}
          onClose={() => {
            select([]);
          }}
        />
      )}
      {picked.length > 1 && <AlignBar marks={picked} move={move} act={act} />}
      <div className="absolute top-3 right-3 flex gap-2">
        <Button
          title="In the middle of the face that is chosen, else of the front; or drag over an empty place of a face"
          onClick={() => {
            const face = one?.o.face ?? "front";
            const [w, h] = faceSize(net, face);
            void add(face, [w / 2 - 10, h / 2 - 4], [w / 2 + 10, h / 2 + 4]);
          }}
        >
          Add an opening
        </Button>
        <Button
          aria-pressed={inside}
          onClick={() => {
            setInside(!inside);
          }}
        >
          {inside ? "Seen from outside" : "Seen from inside"}
        </Button>
      </div>
      <Legend state={state} />
    </div>
  );
}

type Point = readonly [number, number];

interface Drawn {
  face: Face;
  from: Point;
  to: Point;
}

const LEAST_MM = 2; // what is drawn smaller than this was a press

/** An opening of one's own between two corners of a face, with a name of its own. */
function freshOpening(state: SheetProps["state"], face: Face, from: Point, to: Point): OwnOpening {
  const taken = new Set(state.design.own_openings.map((o) => o.id));
  let n = 1;
  while (taken.has(`opening-${n}`)) n++;
  const inset = state.view.case.faces.find((f) => f.id === face)?.inset_mm ?? [0, 0];
  const mid = [0, 1].map((i) => round((from[i]! + to[i]!) / 2 - inset[i]!));
  const size = [0, 1].map((i) => Math.max(LEAST_MM, round(Math.abs(to[i]! - from[i]!))));
  return {
    id: `opening-${n}`,
    name: `Opening ${n}`,
    face: face as OwnOpening["face"],
    at_mm: [mid[0]!, mid[1]!],
    on: null,
    shape: "rectangle",
    size_mm: [size[0]!, size[1]!],
    corner_mm: 1,
    allowed: true,
  };
}

const round = (v: number) => Math.round(v * 10) / 10;
const toneOf = (w: string | null) =>
  w === "stop" ? "var(--vermilion)" : w === "weigh" ? "var(--saffron)" : "var(--ink)";

function ownerOf(m: Mark): string | null {
  if (m.kind === "vent") return m.o.fan;
  return m.o.plug ? null : m.o.of;
}

function sameOwner(id: string, m: Mark, marks: Mark[]): boolean {
  const held = marks.find((x) => x.o.id === id);
  const owner = held && ownerOf(held);
  return !!owner && ownerOf(m) === owner;
}

function FaceShape({
  net,
  face,
  state,
  onDraw,
  onDrawn,
}: {
  net: Net;
  face: Face;
  state: SheetProps["state"];
  onDraw: (from: Point, to: Point) => void;
  onDrawn: (from: Point, to: Point) => void;
}) {
  const from = useRef<Point | null>(null);
  const at = (e: React.PointerEvent<SVGElement>): Point => {
    const box = e.currentTarget.ownerSVGElement!.getBoundingClientRect();
    return pointOnFace(net, face, e.clientX - box.left, e.clientY - box.top);
  };
  const [w, h] = faceSize(net, face);
  const made = state.view.case;
  const r = faceRect(net, face, 0, 0, w, h);
  const upright = face !== "top" && face !== "bottom";
  return (
    <g>
      <rect
        {...r}
        fill="var(--paper)"
        fillOpacity="0.65"
        stroke="var(--ink)"
        strokeWidth="1.1"
        className="cursor-crosshair"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          from.current = at(e);
        }}
        onPointerMove={(e) => {
          if (from.current) onDraw(from.current, at(e));
        }}
        onPointerUp={(e) => {
          if (from.current) onDrawn(from.current, at(e));
          from.current = null;
        }}
      />
      <g pointerEvents="none">
        {upright &&
          made.seams
            .filter((s) => s.axis === 2)
            .map((s) => {
              const [a, b] = [toPaper(net, face, 0, s.at_mm), toPaper(net, face, w, s.at_mm)];
              return (
                <path
                  key={s.path}
                  d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}`}
                  stroke="var(--plum)"
                  strokeWidth="0.9"
                  strokeDasharray="10 3 2 3"
                />
              );
            })}
        {net.inside &&
          !upright &&
          [
            ...made.joints.map((s) => ({ at: s.at, od: s.od_mm })),
            ...(face === "bottom" ? made.mounts.map((s) => ({ at: s.at, od: s.od_mm })) : []),
          ].map((s, i) => {
            const c = toPaper(net, face, s.at[0], face === "top" ? s.at[1] : net.size[1] - s.at[1]);
            return (
              <circle
                key={i}
                cx={c[0]}
                cy={c[1]}
                r={(s.od / 2) * net.k}
                fill="url(#cut)"
                stroke="var(--plum)"
                strokeWidth="0.8"
              />
            );
          })}
        {face === "bottom" &&
          made.feet.map((f, i) => {
            const c = toPaper(net, face, f[0], net.size[1] - f[1]);
            return (
              <circle
                key={i}
                cx={c[0]}
                cy={c[1]}
                r={(made.foot_d_mm / 2) * net.k}
                fill="none"
                stroke="var(--slate)"
                strokeDasharray="3 2"
              />
            );
          })}
        <text
          x={face === "bottom" ? r.x + r.width / 2 : face === "right" ? r.x + r.width - 7 : r.x + 7}
          textAnchor={face === "bottom" ? "middle" : face === "right" ? "end" : "start"}
          y={face === "back" || face === "top" ? r.y + 16 : r.y + r.height - 7}
          fontSize="11.5"
          fill="var(--soft)"
          className="font-head"
        >
          {LABEL[face]}
        </text>
      </g>
    </g>
  );
}

function MarkShape(props: {
  net: Net;
  mark: Mark;
  by: [number, number];
  selected: boolean;
  tone: string;
  /** Its concern in words, to be heard. */
  heard: string;
  onGrab: (more: boolean) => void;
  onDrag: (dx: number, dy: number) => void;
  onDrop: (dx: number, dy: number) => void;
  onNudge: (dx: number, dy: number) => void;
}) {
  const { net, mark: m, by } = props;
  const start = useRef<[number, number] | null>(null);
  const [u, v] = [m.o.at_mm[0] + by[0], m.o.at_mm[1] + by[1]];
  const [w, h] = m.o.size_mm;
  const r = faceRect(net, m.o.face, u - w / 2, v - h / 2, u + w / 2, v + h / 2);
  const stroke = props.selected ? "var(--plum)" : props.tone;
  const screw = m.kind === "opening" && !m.o.plug && m.o.id.includes("/screw-");
  return (
    <g
      role="button"
      tabIndex={screw ? -1 : 0}
      data-focusable
      aria-label={`${m.o.label}, ${m.o.face} face, ${brief(w, 1)} by ${brief(h, 1)} mm${props.heard}`}
      aria-pressed={props.selected}
      className="cursor-grab"
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        start.current = [e.clientX, e.clientY];
        props.onGrab(e.shiftKey);
      }}
      onPointerMove={(e) => {
        if (start.current && Math.hypot(e.clientX - start.current[0], e.clientY - start.current[1]) > 2)
          props.onDrag(e.clientX - start.current[0], e.clientY - start.current[1]);
      }}
      onPointerUp={(e) => {
        if (start.current) props.onDrop(e.clientX - start.current[0], e.clientY - start.current[1]);
        start.current = null;
      }}
      onKeyDown={(e) => {
        const s = e.shiftKey ? 0.1 : 1;
        const by: Record<string, [number, number]> = {
          ArrowLeft: [-s, 0],
          ArrowRight: [s, 0],
          ArrowUp: [0, -s],
          ArrowDown: [0, s],
        };
        const go = by[e.key];
        if (go) {
          e.preventDefault();
          props.onNudge(...go);
        } else if (e.key === "Enter" || e.key === " ") {
          e.preventDefault();
          props.onGrab(e.shiftKey);
        }
      }}
    >
      {m.kind === "vent" ? (
        <>
          <rect
            {...r}
            fill="transparent"
            stroke={stroke}
            strokeWidth={props.selected ? 1.4 : 0.7}
            strokeDasharray="4 3"
            rx={m.o.fan ? r.width / 2 : 0}
          />
          <path d={diamonds(net, m.o, by)} fill="var(--leaf)" stroke={stroke} strokeWidth="0.9" />
        </>
      ) : (
        <>
          {m.o.plug && (
            <rect
              {...faceRect(
                net,
                m.o.face,
                u - m.o.plug.size_mm[0] / 2,
                v - m.o.plug.size_mm[1] / 2,
                u + m.o.plug.size_mm[0] / 2,
                v + m.o.plug.size_mm[1] / 2,
              )}
              rx={m.o.round ? r.width : 2}
              fill="url(#soft)"
              stroke="var(--slate)"
              strokeWidth="0.6"
              strokeDasharray="3 2"
            />
          )}
          {m.o.recess && (
            <rect
              {...faceRect(
                net,
                m.o.face,
                u - m.o.recess.size_mm[0] / 2,
                v - m.o.recess.size_mm[1] / 2,
                u + m.o.recess.size_mm[0] / 2,
                v + m.o.recess.size_mm[1] / 2,
              )}
              rx={m.o.round ? 99 : 1}
              fill="none"
              stroke={stroke}
              strokeWidth="0.8"
            />
          )}
          <rect
            {...r}
            rx={m.o.round ? r.width / 2 : m.o.corner_mm * net.k}
            fill="var(--leaf)"
            stroke={stroke}
            strokeWidth={props.selected ? 1.8 : 1.2}
          />
          {m.o.plug && (
            <rect
              {...faceRect(
                net,
                m.o.face,
                u - m.o.nominal_mm[0] / 2,
                v - m.o.nominal_mm[1] / 2,
                u + m.o.nominal_mm[0] / 2,
                v + m.o.nominal_mm[1] / 2,
              )}
              rx={m.o.round ? 99 : 0}
              fill="none"
              stroke={stroke}
              strokeWidth="0.5"
              strokeDasharray="2 1.500"
            />
          )}
          {m.o.pinned && m.o.plug && (
            <path
              d={cross(toPaper(net, m.o.face, m.o.target_mm[0], m.o.target_mm[1]))}
              stroke="var(--slate)"
              strokeWidth="1"
            />
          )}
        </>
      )}
      <rect
        className="focusring"
        x={r.x - 4}
        y={r.y - 4}
        width={r.width + 8}
        height={r.height + 8}
        fill="none"
        opacity="0"
      />
    </g>
  );
}

const cross = ([x, y]: [number, number]) => `M${x - 5} ${y}h10M${x} ${y - 5}v10`;

function diamonds(net: Net, v: Vent, by: [number, number]): string {
  const h = (v.across_mm / Math.SQRT2) * net.k;
  return v.holes
    .map(([u, w]) => {
      const [x, y] = toPaper(net, v.face, u + by[0], w + by[1]);
      return `M${x - h} ${y}L${x} ${y - h}L${x + h} ${y}L${x} ${y + h}Z`;
    })
    .join("");
}

/** Dimension lines of one opening: from the face's left and lower edge to its middle. */
function Place({ net, mark: m }: { net: Net; mark: Mark }) {
  const [u, v] = m.o.at_mm;
  const c = toPaper(net, m.o.face, u, v);
  const left = toPaper(net, m.o.face, 0, v);
  const low = toPaper(net, m.o.face, u, 0);
  // both lines stand at the edges of the face, clear of the openings
  const [, h] = faceSize(net, m.o.face);
  const roof = toPaper(net, m.o.face, u, h);
  return (
    <>
      <Dimension
        x1={left[0]}
        y1={roof[1]}
        x2={c[0]}
        y2={roof[1]}
        off={left[0] < c[0] ? 14 : -14}
        text={brief(u, 1)}
        name={`Middle of ${m.o.label} from the left edge`}
      />
      <Dimension
        x1={left[0]}
        y1={low[1]}
        x2={left[0]}
        y2={c[1]}
        off={left[0] < c[0] ? 14 : -14}
        text={brief(v, 1)}
        name={`Middle of ${m.o.label} from the lower edge`}
      />
    </>
  );
}

function Legend({ state }: { state: SheetProps["state"] }) {
  const { need, ladder, openings } = state.view;
  const vents = openings.vents.filter((v) => !v.fan).reduce((s, v) => s + v.free_area_mm2, 0);
  return (
    <div className="absolute bottom-3 left-4 max-w-[15rem] text-[12px] leading-snug text-soft">
      <p>
        Air: <span className="num">{brief(need.heat_w, 1)}</span> W ask for{" "}
        <span className="num">{brief(need.area_mm2.value / 100, 1)}</span> cm² of vents, there are{" "}
        <span className="num">{brief(vents / 100, 1)}</span>. Flow{" "}
        <span className="num">{brief(ladder.flow_m3s * 1000, 2)}</span> l/s, inside{" "}
        <span className="num">{brief(ladder.inside_c, 0)}</span> °C.
      </p>
      <p>
        Drag an opening, or nudge it with the arrow keys. Shift-click several to align them. Drag over an
        empty place of a face for an opening of your own.
      </p>
    </div>
  );
}
