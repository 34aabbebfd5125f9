import { useRef } from "react";

import type { Lettered, Vent } from "../../api/schema";
import { brief } from "../../ui/number";
import type { Mark } from "./mark";
import { faceRect, type Net, toPaper } from "./net";

/** An opening, a field of vents or a text on its face: chosen, dragged, nudged. */
export function MarkShape(props: {
  net: Net;
  mark: Mark;
  by: [number, number];
  selected: boolean;
  /** Something else would be in its place. */
  pale: boolean;
  tone: string;
  /** Its concern in words, to be heard. */
  heard: string;
  onGrab: (more: boolean) => void;
  onDrag: (dx: number, dy: number) => void;
  onDrop: (dx: number, dy: number) => void;
  /** The pointer is taken away, or the hand thinks better of it. */
  onBack: () => void;
  onNudge: (dx: number, dy: number) => void;
}) {
  const { net, mark: m, by } = props;
  const start = useRef<[number, number] | null>(null);
  const [u, v] = [m.o.at_mm[0] + by[0], m.o.at_mm[1] + by[1]];
  const [w, h] = m.o.size_mm;
  const [u0, v0] = m.kind === "text" ? sum(m.o.rect_mm, by) : [u - w / 2, v - h / 2];
  const r = faceRect(net, m.o.face, u0, v0, u0 + w, v0 + h);
  const stroke = props.selected ? "var(--plum)" : props.tone;
  // what is so large about the opening's middle, on the paper
  const about = ([a, b]: [number, number]) =>
    faceRect(net, m.o.face, u - a / 2, v - b / 2, u + a / 2, v + b / 2);
  const screw = m.kind === "opening" && !m.o.plug && m.o.id.includes("/screw-");
  return (
    <g
      role="button"
      tabIndex={screw ? -1 : 0}
      data-focusable
      aria-label={`${m.o.label}, ${m.o.face} face, ${brief(w, 1)} by ${brief(h, 1)} mm${props.heard}`}
      aria-pressed={props.selected}
      className="cursor-grab"
      opacity={props.pale ? 0.4 : undefined}
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
      ) : m.kind === "text" ? (
        <>
          <rect
            {...r}
            fill="transparent"
            stroke={stroke}
            strokeWidth={props.selected ? 1 : 0.5}
            strokeDasharray="2 3"
          />
          <path
            d={letters(net, m.o, by)}
            fill={m.o.part ? stroke : "none"}
            stroke={stroke}
            strokeWidth="0.5"
          />
        </>
      ) : (
        <>
          {m.o.plug && (
            <rect
              {...about(m.o.plug.size_mm)}
              rx={m.o.round ? r.width : 2}
              fill="url(#soft)"
              stroke="var(--slate)"
              strokeWidth="0.6"
              strokeDasharray="3 2"
            />
          )}
          {m.o.pane && (
            <rect
              {...about(m.o.pane.seat_mm)}
              rx={m.o.round ? 999 : 0}
              fill="none"
              stroke={stroke}
              strokeWidth="0.7"
              strokeDasharray="4 2"
            />
          )}
          {m.o.pane?.screws.map(([a, b]) => {
            const [su, sv, s] = [a + by[0], b + by[1], m.o.pane!.hole_mm / 2];
            const c = faceRect(net, m.o.face, su - s, sv - s, su + s, sv + s);
            return (
              <rect key={`${a} ${b}`} {...c} rx={c.width / 2} fill="none" stroke={stroke} strokeWidth="0.9" />
            );
          })}
          {m.o.recess && (
            <rect
              {...about(m.o.recess.size_mm)}
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
              {...about(m.o.nominal_mm)}
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

const sum = ([u, v]: readonly number[], by: readonly [number, number]) => [u! + by[0], v! + by[1]] as const;

function letters(net: Net, t: Lettered, by: [number, number]): string {
  return t.outlines
    .map(
      (loop) => `M${loop.map(([u, v]) => toPaper(net, t.face, u + by[0], v + by[1]).join(" ")).join("L")}Z`,
    )
    .join("");
}

function diamonds(net: Net, v: Vent, by: [number, number]): string {
  const h = (v.across_mm / Math.SQRT2) * net.k;
  return v.holes
    .map(([u, w]) => {
      const [x, y] = toPaper(net, v.face, u + by[0], w + by[1]);
      return `M${x - h} ${y}L${x} ${y - h}L${x + h} ${y}L${x} ${y + h}Z`;
    })
    .join("");
}
