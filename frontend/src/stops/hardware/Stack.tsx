import type { JointRow } from "../../api/schema";
import { brief } from "../../ui/number";

type Layer = JointRow["joint"]["layers"][number];

const WIDE = 300;
const LEFT = 96; // where the plates begin: dimensions stand to their left
const RIGHT = 196; // where they end: names stand to their right
const AXIS = (LEFT + RIGHT) / 2;

const FILL: Record<Layer["kind"], string> = {
  printed: "url(#cut)",
  plastic: "url(#cut)",
  spacer: "url(#cut)",
  component: "var(--rule)",
  insert: "var(--saffron)",
  nut: "var(--slate)",
  standoff: "var(--slate)",
};

/** A screw in what it passes, cut along its axis, to scale: head, plates, what holds it, and the room at its tip. */
export function Stack({ row }: { row: JointRow }) {
  const g = row.joint;
  const length = g.screw_mm ?? 0;
  // a countersunk screw is measured from the top of its head, which its cone takes in
  const cone = g.head === "countersunk";
  const top = Math.max(cone ? 0.5 : row.head_k_mm, g.sunk_mm);
  const bottom = Math.max(g.end_mm, length, ...g.layers.map((l) => l.to_mm));
  const scale = Math.min(300 / (top + bottom), 14);
  const y = (mm: number) => 18 + (top + mm) * scale;
  const half = (mm: number) => Math.min((mm / 2) * scale, (RIGHT - LEFT) / 2 - 8);
  const high = y(bottom) + 22;
  const r = half(row.d_mm);
  const head = half(row.head_d_mm);
  const said = g.layers.map((l) => `${l.what} ${brief(l.to_mm - l.from_mm, 2)} mm`).join(", ");
  // names that would lie over one another move down
  const names = g.layers.reduce<number[]>((placed, l) => {
    const below = (placed.at(-1) ?? -Infinity) + 14;
    return [...placed, Math.max((y(l.from_mm) + y(l.to_mm)) / 2, below)];
  }, []);
  return (
    <svg
      role="img"
      aria-label={`${g.name}: ${row.screw || "stud"} through ${said}`}
      viewBox={`0 0 ${WIDE} ${Math.max(high, (names.at(-1) ?? 0) + 14)}`}
      className="w-full max-w-[24rem]"
    >
      {g.layers.map((l, i) => (
        <g key={`${l.what}-${l.from_mm}`}>
          {(l.kind === "insert" || l.kind === "nut" || l.kind === "standoff") && (
            <rect
              x={LEFT}
              width={RIGHT - LEFT}
              y={y(l.from_mm)}
              height={(l.to_mm - l.from_mm) * scale}
              fill={l.kind === "insert" ? "url(#cut)" : "none"}
            />
          )}
          <rect
            x={l.kind === "insert" || l.kind === "nut" || l.kind === "standoff" ? AXIS - r * 1.9 : LEFT}
            width={l.kind === "insert" || l.kind === "nut" || l.kind === "standoff" ? r * 3.8 : RIGHT - LEFT}
            y={y(l.from_mm)}
            height={Math.max((l.to_mm - l.from_mm) * scale, 0.5)}
            fill={FILL[l.kind]}
            stroke="var(--ink)"
            strokeWidth="0.7"
          />
          <path
            d={`M${RIGHT + 1} ${(y(l.from_mm) + y(l.to_mm)) / 2}L${RIGHT + 9} ${names[i]}`}
            stroke="var(--soft)"
            strokeWidth="0.6"
            fill="none"
          />
          <text x={RIGHT + 12} y={names[i]} dominantBaseline="central" fontSize="11" fill="var(--ink)">
            {l.what.length > 15 ? `${l.what.slice(0, 14)}…` : l.what}
          </text>
        </g>
      ))}
      {/* the hole beyond the tip, and round the shaft where it is free */}
      <rect x={AXIS - r} width={2 * r} y={y(-top)} height={(top + g.end_mm) * scale} fill="var(--leaf)" />
      {g.sunk_mm > 0 && (
        <rect
          x={AXIS - head - 1}
          width={2 * head + 2}
          y={y(-g.sunk_mm)}
          height={g.sunk_mm * scale}
          fill="var(--leaf)"
          stroke="var(--ink)"
          strokeWidth="0.7"
        />
      )}
      {length > 0 && (
        <g fill="var(--leaf)" stroke="var(--ink)" strokeWidth="1">
          {cone && (
            <path d={`M${AXIS - head} ${y(0)}H${AXIS + head}L${AXIS + r} ${y(row.head_k_mm)}H${AXIS - r}Z`} />
          )}
          {g.head !== "stud" && !cone && (
            <rect
              x={AXIS - head}
              width={2 * head}
              y={y(-row.head_k_mm)}
              height={row.head_k_mm * scale}
              rx={g.head === "button head" ? row.head_k_mm * scale * 0.7 : 1.5}
            />
          )}
          <rect
            x={AXIS - r}
            width={2 * r}
            y={y(cone ? row.head_k_mm : 0)}
            height={(length - (cone ? row.head_k_mm : 0)) * scale}
          />
          {Array.from({ length: Math.max(0, Math.floor((row.engaged_mm * scale) / 4)) }, (_, k) => {
            const at = y(g.grip_mm) + 2 + 4 * k;
            return <path key={k} d={`M${AXIS - r} ${at + 1.5}L${AXIS + r} ${at - 1.5}`} strokeWidth="0.5" />;
          })}
          <path d={`M${AXIS} ${y(-top) - 8}V${y(bottom) + 8}`} strokeWidth="0.5" strokeDasharray="9 3 2 3" />
        </g>
      )}
      {length > 0 && <Span a={y(0)} b={y(g.grip_mm)} text={brief(g.grip_mm, 1)} x={LEFT - 14} />}
      {length > 0 && (
        <Span
          a={y(g.grip_mm)}
          b={y(length)}
          text={brief(row.engaged_mm, 1)}
          x={LEFT - 14}
          tone="var(--plum)"
        />
      )}
      {length > 0 && row.tip_mm > 0.05 && (
        <Span a={y(length)} b={y(g.end_mm)} text={brief(row.tip_mm, 1)} x={LEFT - 14} tone="var(--soft)" />
      )}
      {length > 0 && <Span a={y(0)} b={y(length)} text={brief(length, 2)} x={LEFT - 60} />}
    </svg>
  );
}

/** A length along the screw's axis, as on a drawing. */
function Span({
  a,
  b,
  text,
  x,
  tone = "var(--slate)",
}: {
  a: number;
  b: number;
  text: string;
  x: number;
  tone?: string;
}) {
  const tick = (at: number) => `M${x - 3} ${at + 3}L${x + 3} ${at - 3}`;
  return (
    <g stroke={tone} fill="none" strokeWidth="1">
      <path d={`M${x} ${a}V${b}${tick(a)}${tick(b)}`} />
      <text
        x={x - 6}
        y={(a + b) / 2}
        textAnchor="end"
        dominantBaseline="central"
        stroke="none"
        fill={tone}
        className="num"
        fontSize="11"
      >
        {text}
      </text>
    </g>
  );
}
