import { useRef, useState } from "react";

import type { PartOverBed } from "../../api/schema";
import { heldAt, inPlate } from "./seam";
import { brief } from "../../ui/number";
import type { GhostCut } from "./ghostCuts";
import { runs } from "./runs";

type Cut = PartOverBed["cuts"]["cuts"][number];

const EDGE = 34; // of the drawing, for the scales of prices
const BAR = 13;

/** A part through its plate, to scale: the pieces with their numbers, the cuts to be dragged, and along two edges where a cut may run. */
export function PartMap({
  part,
  scale,
  ghosts,
  live,
  onDrag,
  onMove,
}: {
  part: PartOverBed;
  scale: number;
  /** Where the remedy under the hand would cut it. */
  ghosts: readonly GhostCut[];
  /** Whether the part is shown as it would be with the dragged cut where it is. */
  live: boolean;
  /** While a cut is dragged; null: it was let go where it had been. */
  onDrag: (cut: Cut, to: number | null) => void;
  onMove: (cut: Cut, to: number) => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ cut: Cut; at: number; others: readonly Cut[] } | null>(null);
  const flat = part.cuts.flat.length === 2 ? part.cuts.flat : (["x", "y"] as const);
  const index = { x: 0, y: 1, z: 2 };
  const [u, v] = [index[flat[0]!], index[flat[1]!]];
  const lo = [part.cuts.lo_mm[u]!, part.cuts.lo_mm[v]!] as const;
  const hi = [part.cuts.hi_mm[u]!, part.cuts.hi_mm[v]!] as const;
  const w = (hi[0] - lo[0]) * scale;
  const h = (hi[1] - lo[1]) * scale;
  const X = (mm: number) => EDGE + (mm - lo[0]) * scale;
  const Y = (mm: number) => 6 + (hi[1] - mm) * scale;
  const [bu, bv] = part.cuts.usable_mm;
  const along = (cut: Cut) => cut.axis === flat[0];
  const mm = (e: React.PointerEvent, cut: Cut) => {
    const box = svg.current!.getBoundingClientRect();
    const k = (w + EDGE + 6) / box.width; // the drawing may be shown smaller
    return along(cut)
      ? lo[0] + ((e.clientX - box.left) * k - EDGE) / scale
      : hi[1] - ((e.clientY - box.top) * k - 6) / scale;
  };
  const within = (cut: Cut, to: number) => {
    const k = along(cut) ? 0 : 1;
    return Math.round(Math.max(lo[k] + 6, Math.min(hi[k] - 6, to)) * 2) / 2;
  };
  return (
    <svg
      ref={svg}
      role="group"
      aria-label={`${part.cuts.part} over its bed`}
      viewBox={`0 0 ${w + EDGE + 6} ${h + EDGE + 6}`}
      style={{ width: w + EDGE + 6 }}
      className="max-w-full touch-none select-none"
    >
      <path
        d={part.outline
          .map((loop) => `M${loop.map(([a, b]) => `${X(a).toFixed(1)} ${Y(b).toFixed(1)}`).join("L")}Z`)
          .join("")}
        fill="var(--plumwash)"
        fillRule="evenodd"
        stroke="var(--ink)"
        strokeWidth="0.8"
      />
      <rect
        x={X(lo[0])}
        y={Y(lo[1]) - bv * scale}
        width={bu * scale}
        height={bv * scale}
        fill="none"
        stroke="var(--slate)"
        strokeDasharray="2 4"
      />
      {part.ways.map((way, k) => (
        <g key={way.axis}>
          {runs(way.prices).map((r) => {
            const fill =
              r.price === null ? "var(--vermilion)" : r.price > 0 ? "var(--saffron)" : "var(--verdigris)";
            const words =
              r.price === null
                ? `no cut: ${r.why}`
                : r.price > 0
                  ? `price ${brief(r.price, 2)}: ${r.why}`
                  : "free";
            const thick = r.price === null ? BAR : Math.min(4 + r.price * BAR, BAR);
            const box =
              k === 0
                ? {
                    x: X(r.from),
                    y: Y(lo[1]) + 8,
                    width: Math.max((r.to - r.from) * scale, 1),
                    height: thick,
                  }
                : {
                    x: EDGE - 8 - thick,
                    y: Y(r.to),
                    width: thick,
                    height: Math.max((r.to - r.from) * scale, 1),
                  };
            return (
              <rect key={r.from} {...box} fill={fill} fillOpacity={r.price === null ? 0.55 : 0.85}>
                <title>{`${brief(r.from - lo[k]!, 0)} to ${brief(r.to - lo[k]!, 0)} mm: ${words}`}</title>
              </rect>
            );
          })}
        </g>
      ))}
      {part.cells.map((c) => {
        const [cx, cy] = [X((c.lo_mm[0] + c.hi_mm[0]) / 2), Y((c.lo_mm[1] + c.hi_mm[1]) / 2)];
        return (
          <g key={c.number}>
            <circle
              cx={cx}
              cy={cy}
              r="12"
              fill="var(--leaf)"
              stroke={c.piece.fits_bed ? "var(--ink)" : "var(--vermilion)"}
              strokeWidth="1.2"
            />
            <text
              x={cx}
              y={cy}
              textAnchor="middle"
              dominantBaseline="central"
              fontSize="12"
              fill="var(--ink)"
            >
              {c.number}
            </text>
          </g>
        );
      })}
      {part.seams.map(({ cut, plan, ends, band }, i) => {
        const dragged = drag !== null && i === heldAt(part.seams, drag.cut, drag.others);
        const here = dragged ? drag.at : cut.at_mm;
        const by = here - cut.at_mm; // as far as it is dragged
        const shown = ends.map(([a, b]) => (along(cut) ? [X(a + by), Y(b)] : [X(a), Y(b + by)])) as [
          [number, number],
          [number, number],
        ];
        const [x1, y1, x2, y2] = cut.turn_deg
          ? [...shown[0], ...shown[1]]
          : along(cut)
            ? [X(here), 0, X(here), Y(lo[1]) + 26]
            : [EDGE - 26, Y(here), X(hi[0]) + 6, Y(here)];
        const k = along(cut) ? 0 : 1;
        return (
          <g
            key={`${cut.axis} ${i}`}
            role="slider"
            tabIndex={0}
            aria-label={`Cut of the ${part.cuts.part} across ${cut.axis}`}
            aria-valuenow={Math.round(here - lo[k])}
            aria-valuemin={0}
            aria-valuemax={Math.round(hi[k] - lo[k])}
            aria-valuetext={`${brief(here - lo[k], 1)} mm from its ${along(cut) ? "left" : "lower"} edge${cut.turn_deg ? `, turned by ${brief(cut.turn_deg, 1)} degrees` : ""}${cut.lean_deg ? `, leaning by ${brief(cut.lean_deg, 1)} degrees` : ""}`}
            aria-orientation={along(cut) ? "horizontal" : "vertical"}
            className={along(cut) ? "cursor-ew-resize" : "cursor-ns-resize"}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              setDrag({ cut, at: cut.at_mm, others: part.seams.map((s) => s.cut).filter((c) => c !== cut) });
            }}
            onPointerMove={(e) => {
              if (!dragged) return;
              const to = within(cut, mm(e, cut));
              if (to === drag.at) return;
              setDrag({ ...drag, at: to });
              onDrag(drag.cut, to);
            }}
            onPointerUp={() => {
              if (!drag) return;
              if (Math.abs(drag.at - drag.cut.at_mm) > 0.2) onMove(drag.cut, drag.at);
              else onDrag(drag.cut, null);
              setDrag(null);
            }}
            onPointerCancel={() => {
              if (drag) onDrag(drag.cut, null);
              setDrag(null);
            }}
            onKeyDown={(e) => {
              if (e.key === "Escape" && drag) {
                e.stopPropagation();
                onDrag(drag.cut, null);
                setDrag(null);
                return;
              }
              const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
              if (!by) return;
              e.preventDefault();
              onMove(cut, within(cut, cut.at_mm + by * (e.shiftKey ? 0.5 : 2)));
            }}
          >
            {band.length > 0 && !dragged && (
              <path
                d={`M${band.map(([a, b]) => `${X(a).toFixed(1)} ${Y(b).toFixed(1)}`).join("L")}Z`}
                fill="var(--plum)"
                fillOpacity="0.18"
              >
                <title>{`leans by ${brief(cut.lean_deg, 1)} degrees: its face covers so much`}</title>
              </path>
            )}
            <path d={`M${x1} ${y1}L${x2} ${y2}`} stroke="transparent" strokeWidth="14" />
            <path
              d={`M${x1} ${y1}L${x2} ${y2}`}
              stroke="var(--plum)"
              strokeWidth="1.6"
              strokeDasharray={cut.pinned || dragged ? undefined : "7 3"}
            />
            {(!dragged || live) &&
              plan.map((loop) => (
                <path
                  key={loop.join(" ")}
                  d={`M${loop.map(([a, b]) => `${X(a).toFixed(1)} ${Y(b).toFixed(1)}`).join("L")}Z`}
                  fill={inPlate(cut.joined) ? "var(--leaf)" : "var(--plum)"}
                  fillOpacity={inPlate(cut.joined) ? 1 : 0.75}
                  stroke="var(--plum)"
                  strokeWidth="1"
                />
              ))}
            {dragged && (
              <text x={x1 + 6} y={y1 + 12} fontSize="12" className="num" fill="var(--plum)">
                {brief(here - lo[k], 1)}
              </text>
            )}
          </g>
        );
      })}
      {ghosts.map((g) => {
        const [x, y] = [X(g.at_mm), Y(g.at_mm)];
        return (
          <path
            key={`${g.axis} ${g.at_mm}`}
            data-ghost
            d={g.axis === flat[0] ? `M${x} 0V${Y(lo[1]) + 26}` : `M${EDGE - 26} ${y}H${X(hi[0]) + 6}`}
            stroke="var(--plum)"
            strokeOpacity="0.6"
            strokeDasharray="3 3"
            aria-hidden
            pointerEvents="none"
          />
        );
      })}
    </svg>
  );
}
