import type { Component } from "../../api/schema";
import { convexPath } from "../../sheet/convex";
import { Hatch } from "../../sheet/Hatch";
import { doubted, extent, FILL } from "./extent";

/** A component seen from above, to scale: solids by what they are, holes; what is doubted in a broken line. */
export function Outline({ component: c, on, k }: { component: Component; on: boolean; k: number }) {
  const { lo, hi } = extent(c);
  const [w, h] = [hi[0] - lo[0], hi[1] - lo[1]];
  const ink = on ? "var(--plum)" : "var(--ink)";
  return (
    <svg
      width={w * k + 4}
      height={h * k + 4}
      viewBox={`-2 -2 ${w * k + 4} ${h * k + 4}`}
      className="h-auto max-w-full"
      aria-hidden
    >
      <Hatch />
      {[...c.solids]
        .sort((a, b) => a.hi[2] - b.hi[2])
        .map((s) => {
          const x = (s.lo[0] - lo[0]) * k;
          const y = (hi[1] - s.hi[1]) * k;
          const look = {
            fill: FILL[s.role],
            stroke: doubted(s) ? "var(--saffron)" : ink,
            strokeWidth: on ? 1.5 : 0.9,
            strokeDasharray: s.role === "pins" ? "2 2" : s.role === "plug" || doubted(s) ? "4 3" : undefined,
          };
          const [sw, sh] = [(s.hi[0] - s.lo[0]) * k, (s.hi[1] - s.lo[1]) * k];
          if (s.corners?.length)
            return (
              <path
                key={s.name}
                d={convexPath(s.corners, (p) => [(p[0]! - lo[0]) * k, (hi[1] - p[1]!) * k])}
                {...look}
              />
            );
          return s.round ? (
            <circle key={s.name} cx={x + sw / 2} cy={y + sh / 2} r={sw / 2} {...look} />
          ) : (
            <rect key={s.name} x={x} y={y} width={sw} height={sh} {...look} />
          );
        })}
      {(c.mounts ?? [])
        .filter((m) => m.side === "bottom")
        .map((m) => (
          <circle
            key={m.name}
            cx={(m.at[0] - lo[0]) * k}
            cy={(hi[1] - m.at[1]) * k}
            r={Math.max(1, (m.hole_mm / 2) * k)}
            fill="var(--leaf)"
            stroke={doubted(m) ? "var(--saffron)" : ink}
            strokeWidth="0.9"
          />
        ))}
    </svg>
  );
}
