import { useState } from "react";

import type { Edit } from "../../api/client";
import { heard, worst } from "../../desk/worst";
import { useUi } from "../../desk/desk";
import type { SheetProps } from "../../desk/sheetProps";
import { tryEdit } from "../../desk/tryEdit";
import { useHeld, useTried } from "../../desk/useTried";
import { Hatch } from "../../sheet/Hatch";
import { useSize } from "../../sheet/useSize";
import { Button } from "../../ui/Button";
import { brief } from "../../ui/number";
import { Dimension } from "../../sheet/Dimension";
import { type Avoid, BUTTONS } from "../../sheet/Slip";
import { AlignBar } from "./AlignBar";
import { type Face, faceRect, faceSize, FACES, layOut, type Net, onFace, type Point, toPaper } from "./net";
import { FaceShape } from "./FaceShape";
import { FRESH_MM, freeMiddle } from "./free";
import { changedMarks, ghostMarks } from "./ghostMarks";
import { MarkShape } from "./MarkShape";
import type { Mark } from "./mark";
import type { FaceText, OwnOpening } from "../../api/schema";
import { OpeningSlip } from "./OpeningSlip";

/** The case unfolded, with every opening true to size, its allowance and its plug. */
export function OpeningsSheet({ state, act }: SheetProps) {
  const [box, size] = useSize<HTMLDivElement>();
  const [inside, setInside] = useState(false);
  const [hand, setHand] = useState<{ id: string; du: number; dv: number } | null>(null);
  const { selected, select } = useUi();
  const { openings: op, case: made } = state.view;
  const { ask, rest, drop: forget } = useTried(state.id, state.version, tryEdit);
  const there = useHeld(state) ?? state; // where the hand has it
  const [large, setLarge] = useState<Face | null>(null);
  const net = layOut(made.box_mm, size, inside, large);
  const faces = large ? [large] : FACES;
  // what lies in a plate is drawn over the opening in front of it
  const marks: Mark[] = [
    ...op.vents.map((o) => ({ kind: "vent" as const, o })),
    ...[...op.openings].sort((a, b) => a.from_mm - b.from_mm).map((o) => ({ kind: "opening" as const, o })),
    ...op.texts.map((o) => ({ kind: "text" as const, o })),
  ].filter((m) => !large || m.o.face === large);
  // in the order they were chosen: the first one stays, the others are brought in line with it
  const picked = selected.flatMap((id) => marks.filter((m) => m.o.id === id));
  const one = picked.length === 1 ? picked[0] : undefined;
  const ghost = useUi((s) => s.ghost);
  const looked = there !== state && !hand; // what is typed or pointed at, and not carried
  const ghosts = (
    looked ? changedMarks(op, there.view.openings) : ghostMarks(ghost, op, made.faces, state.view.things)
  ).filter((g) => !large || g.face === large);
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const add = async (face: Face, from: readonly [number, number], to: readonly [number, number]) => {
    const opening = freshOpening(state, face, from, to);
    if (await act.edit([{ do: "put-own-opening", opening }], "add an opening")) select([`own/${opening.id}`]);
  };

  const write = async (face: Face) => {
    const text = freshText(state, face);
    if (await act.edit([{ do: "put-text", text }], "add text")) select([`text/${text.id}`]);
  };

  const move = (m: Mark, du: number, dv: number): Edit => {
    // onto tenths of a millimetre of the face; a hole of a component that sits on the face moves with it
    const [u, v] = m.o.at_mm;
    const by_mm: [number, number] = [round(u + du) - u, round(v + dv) - v];
    return { do: "move-on-face", what: ownerOf(m) ?? m.o.id, by_mm };
  };
  const moved = (m: Mark, du: number, dv: number) => (Math.hypot(du, dv) > 0.05 ? move(m, du, dv) : null);
  /** In the hand, not let go yet. */
  const carry = (m: Mark, du: number, dv: number) => {
    setHand({ id: m.o.id, du, dv });
    const edit = moved(m, du, dv);
    if (edit) void ask(edit);
    else forget();
  };
  const back = () => {
    forget();
    setHand(null);
  };
  const drop = async (m: Mark, du: number, dv: number) => {
    const edit = moved(m, du, dv);
    rest();
    if (edit) await act.edit([edit], `move ${m.o.label}`);
    back();
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
        {faces.map((f) => (
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
              else if (selected.length || large) select([]);
              else setLarge(f); // a press where nothing is, with nothing chosen
            }}
            onOpen={() => {
              select([]);
              setLarge(f);
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
            pale={ghosts.some((g) => g.id === m.o.id)}
            heard={heard(worst(there, m.o.id))}
            tone={toneOf(
              worst(there, m.o.id) ?? (m.kind === "vent" && !m.o.fan ? worst(there, "vents") : null),
            )}
            onGrab={(more) => {
              if (more)
                select(
                  selected.includes(m.o.id) ? selected.filter((s) => s !== m.o.id) : [...selected, m.o.id],
                );
              else if (!selected.includes(m.o.id)) select([m.o.id]);
            }}
            onDrag={(dx, dy) => {
              carry(m, ...onFace(net, m.o.face, dx, dy));
            }}
            onBack={back}
            onDrop={(dx, dy) => void drop(m, ...onFace(net, m.o.face, dx, dy))}
            onNudge={(dx, dy) => void drop(m, ...onFace(net, m.o.face, dx * net.k, dy * net.k))}
          />
        ))}
        {ghosts.map((g, i) => (
          <rect
            key={i}
            data-ghost
            {...faceRect(
              net,
              g.face,
              g.at[0] - g.size[0] / 2,
              g.at[1] - g.size[1] / 2,
              g.at[0] + g.size[0] / 2,
              g.at[1] + g.size[1] / 2,
            )}
            rx={(g.corner ?? 0) * net.k}
            fill="var(--plum)"
            fillOpacity="0.14"
            stroke="var(--plum)"
            strokeDasharray="4 3"
            pointerEvents="none"
          />
        ))}
        {one && !hand && <Place net={net} mark={one} />}
      </svg>
      {one && !hand && (
        <OpeningSlip
          state={state}
          act={act}
          mark={one}
          beside={boxOf(net, one)}
          avoid={[
            { x: size.w - (large ? 450 : 360), y: 0, w: 450, h: 60, times: BUTTONS },
            ...dimensionsOf(net, one),
            ...(large
              ? marks.map((m) => ({ ...boxOf(net, m), times: 20 }))
              : faces.map((f) => {
                  const r = faceRect(net, f, 0, 0, ...faceSize(net, f));
                  return { x: r.x, y: r.y, w: r.width, h: r.height };
                })),
          ]}
          within={size}
          onClose={() => {
            select([]);
          }}
        />
      )}
      {picked.length > 1 && <AlignBar marks={picked} move={move} act={act} />}
      <div className="absolute top-3 right-3 flex gap-2">
        {large && (
          <Button
            onClick={() => {
              setLarge(null);
            }}
          >
            All faces
          </Button>
        )}
        <Button
          title="Near the middle of the face that is chosen, else of the front; or drag over an empty place of a face"
          onClick={() => {
            const face = one?.o.face ?? large ?? "front";
            const [u, v] = freeMiddle(face, faceSize(net, face), marks);
            const [w, h] = FRESH_MM;
            void add(face, [u - w / 2, v - h / 2], [u + w / 2, v + h / 2]);
          }}
        >
          Add an opening
        </Button>
        <Button
          title="Sunk into the face that is chosen, else into the top"
          onClick={() => void write(one?.o.face ?? large ?? "top")}
        >
          Add text
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
      <Legend state={there} />
    </div>
  );
}

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
    pane: null,
  };
}

/** The design's name, or a word, in the middle of a face. */
function freshText(state: SheetProps["state"], face: Face): FaceText {
  const taken = new Set(state.design.texts.map((t) => t.id));
  let n = 1;
  while (taken.has(`text-${n}`)) n++;
  const at = state.view.case.faces.find((f) => f.id === face);
  const [w, h] = at?.size_mm ?? [0, 0];
  const [du, dv] = at?.inset_mm ?? [0, 0];
  const { name } = state.design;
  return {
    id: `text-${n}`,
    face: face as FaceText["face"],
    at_mm: [round(w / 2 - du), round(h / 2 - dv)],
    on: null,
    text: /^[ -~]+$/.test(name) ? name : "Text",
    high_mm: 8,
    deep_mm: null,
    turn_deg: 0,
  };
}

/** What an opening covers on the paper. */
function boxOf(net: Net, { o }: Mark) {
  const [u, v] = o.at_mm;
  const [w, h] = o.size_mm;
  const r = faceRect(net, o.face, u - w / 2, v - h / 2, u + w / 2, v + h / 2);
  return { x: r.x, y: r.y, w: r.width, h: r.height };
}

/** What its dimension lines cover on the paper. */
function dimensionsOf(net: Net, { o }: Mark): Avoid[] {
  const [u, v] = o.at_mm;
  const [, h] = faceSize(net, o.face);
  const [c, left] = [toPaper(net, o.face, u, v), toPaper(net, o.face, 0, v)];
  const [low, roof] = [toPaper(net, o.face, u, 0), toPaper(net, o.face, u, h)];
  const [x, y] = [Math.min(left[0], c[0]), Math.min(c[1], low[1])];
  const beside = left[0] < c[0] ? left[0] - BY_LINE : left[0]; // seen from inside the left edge is on the right
  return [
    { x: beside, y, w: BY_LINE, h: Math.abs(low[1] - c[1]), times: OF_IT },
    { x, y: roof[1] - BY_LINE, w: Math.abs(c[0] - left[0]), h: BY_LINE, times: OF_IT },
  ];
}

const BY_LINE = 24; // pixels from an edge to the outer side of the numbers on the line beside it
const OF_IT = 300; // times as bad to cover them as to cover the drawing

const round = (v: number) => Math.round(v * 10) / 10;
const toneOf = (w: string | null) =>
  w === "stop" ? "var(--vermilion)" : w === "weigh" ? "var(--saffron)" : "var(--ink)";

function ownerOf(m: Mark): string | null {
  if (m.kind === "text") return null;
  if (m.kind === "vent") return m.o.fan;
  return m.o.plug ? null : m.o.of;
}

function sameOwner(id: string, m: Mark, marks: Mark[]): boolean {
  const held = marks.find((x) => x.o.id === id);
  const owner = held && ownerOf(held);
  return !!owner && ownerOf(m) === owner;
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
  const { need, ladder, openings, case: made } = state.view;
  const vents = openings.vents.filter((v) => !v.fan).reduce((s, v) => s + v.free_area_mm2, 0);
  return (
    <div className="pointer-events-none absolute bottom-3 left-4 max-w-[15rem] max-[900px]:top-14 max-[900px]:bottom-auto max-[900px]:max-w-[10rem] text-[12px] leading-snug text-soft">
      {made.faces.every((f) => f.whole) ? (
        <p>
          Air: <span className="num">{brief(need.heat_w, 1)}</span> W ask for{" "}
          <span className="num">{brief(need.vents_mm2 / 100, 1)}</span> cm² of vents
          {need.ways > 1 ? " in and out" : ""}, there are <span className="num">{brief(vents / 100, 1)}</span>
          . Flow <span className="num">{brief(ladder.flow_m3s * 1000, 2)}</span> l/s, inside{" "}
          <span className="num">{brief(ladder.inside_c, 0)}</span> °C.
        </p>
      ) : (
        <p>
          Air: no walls hold it; <span className="num">{brief(need.heat_w, 1)}</span> W go into the room.
        </p>
      )}
      <p className="max-[900px]:hidden">
        Drag an opening, or nudge it with the arrow keys. Shift-click several to align them. Drag over an
        empty place of a face for an opening of your own; press there, or on its name, to see the face large.
      </p>
    </div>
  );
}
