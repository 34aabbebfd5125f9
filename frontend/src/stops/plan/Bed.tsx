import { useQuery } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { PieceOut, StateOut } from "../../api/schema";
import { brief } from "../../ui/number";

/** A piece on its bed, seen from above: usable area dashed, brim round the outline. */
export function Bed({ piece: p, state, scale }: { piece: PieceOut; state: StateOut; scale: number }) {
  const { printer, cuts } = state.view;
  const outline = useQuery({
    queryKey: ["outline", p.digest],
    staleTime: Infinity,
    queryFn: async () =>
      (await api.GET("/api/outlines/{digest}", { params: { path: { digest: p.digest } } })).data?.loops ?? [],
  });
  const [bx, by] = printer.bed_mm;
  const usable = cuts.find((c) => c.part === p.part)!.usable_mm;
  const [w, d] = p.bbox_mm;
  const brim = p.process.brim_mm ?? 0;
  const t = (p.angle_deg * Math.PI) / 180;
  const round = turned(
    outline.data?.length
      ? outline.data
      : [
          [
            [0, 0],
            [w, 0],
            [w, d],
            [0, d],
          ],
        ],
    t,
  );
  const [sx, sy] = [round.x1 - round.x0, round.y1 - round.y0];
  const path = (outline.data ?? []).map((l) => "M" + l.map(([x, y]) => `${x} ${y}`).join("L") + "Z").join("");
  const tone = p.fits_bed ? "var(--plum)" : "var(--vermilion)";
  const pad = Math.max(0, sx - bx, sy - by) / 2 + 4;
  return (
    <svg
      width={(bx + 2 * pad) * scale}
      height={(by + 2 * pad) * scale}
      viewBox={`${-pad} ${-pad} ${bx + 2 * pad} ${by + 2 * pad}`}
      role="img"
      aria-label={`${p.name} on the bed of ${printer.name}: ${p.fits_bed ? "fits" : `${brief(p.over_mm, 1)} mm too large`}`}
    >
      <rect width={bx} height={by} fill="var(--paper)" stroke="var(--ink)" strokeWidth="1" />
      <path d={grid(bx, by)} stroke="var(--rule)" strokeWidth="0.5" />
      <rect
        x={(bx - usable[0]) / 2}
        y={(by - usable[1]) / 2}
        width={Math.max(0, usable[0])}
        height={Math.max(0, usable[1])}
        fill="none"
        stroke="var(--slate)"
        strokeDasharray="4 3"
        strokeWidth="0.8"
      />
      <g
        transform={`translate(${bx / 2} ${by / 2}) scale(1 -1) translate(${-(round.x0 + round.x1) / 2} ${-(round.y0 + round.y1) / 2}) rotate(${p.angle_deg})`}
      >
        {brim > 0 && (
          <path
            d={path}
            fill={tone}
            fillOpacity="0.12"
            stroke={tone}
            strokeOpacity="0.22"
            strokeWidth={2 * brim}
            strokeLinejoin="round"
          />
        )}
        <path d={path} fill={tone} fillOpacity="0.16" stroke={tone} strokeWidth="0.9" fillRule="evenodd" />
      </g>
    </svg>
  );
}

/** The box round an outline that is turned to the left by t about its corner: it lies in the middle of the bed. */
function turned(loops: readonly (readonly (readonly [number, number])[])[], t: number) {
  const [c, s] = [Math.cos(t), Math.sin(t)];
  const xs = loops.flatMap((l) => l.map(([x, y]) => c * x - s * y));
  const ys = loops.flatMap((l) => l.map(([x, y]) => s * x + c * y));
  return { x0: Math.min(...xs), x1: Math.max(...xs), y0: Math.min(...ys), y1: Math.max(...ys) };
}

function grid(w: number, h: number): string {
  let d = "";
  for (let x = 20; x < w; x += 20) d += `M${x} 0V${h}`;
  for (let y = 20; y < h; y += 20) d += `M0 ${y}H${w}`;
  return d;
}
