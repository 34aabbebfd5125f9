import { useRef } from "react";

import type { SheetProps } from "../../desk/sheetProps";
import { type Face, faceRect, faceSize, type Net, type Point, pointOnFace, toPaper } from "./net";

const LABEL: Record<Face, string> = {
  front: "Front",
  back: "Back",
  left: "Left",
  right: "Right",
  top: "Top",
  bottom: "Bottom",
};

/** One face of the unfolded case with what stands behind it; a drag over an empty place of it draws an opening. */
export function FaceShape({
  net,
  face,
  state,
  onDraw,
  onDrawn,
  onOpen,
}: {
  net: Net;
  face: Face;
  state: SheetProps["state"];
  onDraw: (from: Point, to: Point) => void;
  onDrawn: (from: Point, to: Point) => void;
  onOpen: () => void;
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
  const whole = made.faces.find((f) => f.id === face)?.whole ?? true;
  const below = face !== "bottom" && face === made.stands_on ? ", below" : "";
  const foot = (made.foot?.d_mm ?? 0) / 2;
  const feet = below
    ? made.wall_feet.map(([u, v]) => faceRect(net, face, u - foot, v - foot, u + foot, v + foot))
    : [];
  // its name stands beside the feet of its corner
  const left = Math.max(r.x, ...feet.filter((f) => f.x < r.x + r.width / 3).map((f) => f.x + f.width));
  const right = Math.min(r.x + r.width, ...feet.filter((f) => f.x > r.x + (2 * r.width) / 3).map((f) => f.x));
  const label = `${LABEL[face]}${whole ? "" : ", open"}${below}`;
  return (
    <g>
      <rect
        {...r}
        fill="var(--paper)"
        fillOpacity={whole ? 0.65 : 0}
        stroke={whole ? "var(--ink)" : "var(--soft)"}
        strokeWidth="1.1"
        strokeDasharray={whole ? undefined : "5 4"}
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
        {feet.map((f, i) => (
          <rect key={i} {...f} rx={f.width / 2} fill="none" stroke="var(--soft)" strokeDasharray="3 2" />
        ))}
        {!whole &&
          made.walls
            .filter((x) => x.face === face)
            .map((x, i) => (
              <rect
                key={i}
                {...faceRect(net, face, x.lo_mm[0], x.lo_mm[1], x.hi_mm[0], x.hi_mm[1])}
                fill="var(--paper)"
                fillOpacity="0.65"
                stroke="var(--ink)"
                strokeWidth="1.1"
              />
            ))}
        {upright &&
          made.seams
            .filter((s) => s.axis === 2 && s.path)
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
            ...[...made.joints, ...made.magnets]
              .filter((s) => s.along[2] !== 0)
              .map((s) => ({ at: s.at, od: s.od_mm })),
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
                r={((made.foot?.d_mm ?? 0) / 2) * net.k}
                fill="none"
                stroke="var(--slate)"
                strokeDasharray="3 2"
              />
            );
          })}
      </g>
      <text
        {...(net.large ? {} : { role: "button", tabIndex: 0, "aria-label": `${label}, larger` })}
        x={net.large ? r.x : face === "bottom" ? r.x + r.width / 2 : face === "right" ? right - 7 : left + 7}
        textAnchor={net.large ? "start" : face === "bottom" ? "middle" : face === "right" ? "end" : "start"}
        y={net.large ? r.y - 34 : face === "back" || face === "top" ? r.y + 16 : r.y + r.height - 7}
        fontSize={net.large ? 15 : 11.5}
        fill="var(--soft)"
        className={`font-head ${net.large ? "" : "cursor-pointer hover:fill-plum hover:underline"}`}
        onClick={net.large ? undefined : onOpen}
        onKeyDown={(e) => {
          if (!net.large && (e.key === "Enter" || e.key === " ")) {
            e.preventDefault();
            onOpen();
          }
        }}
      >
        {label}
      </text>
    </g>
  );
}
