import type { Placed, Solved } from "../../api/schema";
import { Dimension } from "../../sheet/Dimension";
import { useSize } from "../../sheet/useSize";
import { brief } from "../../ui/number";
import type { Book } from "./notebook";

/** The board as far as the readings tell it: edges, holes with how sure they are (ten times as large), the reading at hand. */
export function MeasuredBoard({
  book,
  solved,
  on,
}: {
  book: Book;
  solved: Solved | null;
  on: string | null;
}) {
  const [box, size] = useSize<HTMLDivElement>();
  const placed = (solved?.without?.length ? solved.without : solved?.features) ?? [];
  const at = new Map<string, Placed>(placed.map((p) => [p.name, p]));
  const edges = placed.filter((p) => p.kind === "edge");
  const xs = edges.map((p) => p.x_mm).filter((v): v is number => v !== null && v !== undefined);
  const ys = edges.map((p) => p.y_mm).filter((v): v is number => v !== null && v !== undefined);
  const w = xs.length > 1 ? Math.max(...xs) - Math.min(...xs) : 85;
  const d = ys.length > 1 ? Math.max(...ys) - Math.min(...ys) : 56;
  const k = Math.min((Math.max(size.w, 230) - 100) / w, 250 / d);
  const x0 = xs.length > 1 ? Math.min(...xs) : 0;
  const y0 = ys.length > 1 ? Math.min(...ys) : 0;
  const px = (x: number) => 56 + (x - x0) * k;
  const py = (y: number) => 36 + (d - (y - y0)) * k;
  const known = xs.length > 1 && ys.length > 1;
  const r = book.readings.find((x) => x.id === on);
  const holes = placed.filter((p) => p.kind === "hole" && p.x_mm !== null && p.y_mm !== null);
  const off = new Map((solved?.off ?? []).map((o) => [o.hole, o.by_mm]));
  return (
    <div ref={box}>
      <svg
        width="100%"
        height={d * k + 72}
        role="img"
        aria-label={
          known
            ? `Board of ${brief(w, 2)} by ${brief(d, 2)} mm, ${holes.length} holes placed`
            : "No board yet: measure from edge to edge"
        }
      >
        <rect
          x={px(x0)}
          y={py(y0 + d)}
          width={w * k}
          height={d * k}
          fill={known ? "color-mix(in srgb, var(--verdigris) 10%, var(--leaf))" : "none"}
          stroke="var(--ink)"
          strokeDasharray={known ? undefined : "5 4"}
        />
        {holes.map((p) => (
          <g key={p.name}>
            <circle
              cx={px(p.x_mm!)}
              cy={py(p.y_mm!)}
              r={((p.d_mm ?? 2.7) / 2) * k}
              fill="var(--leaf)"
              stroke={
                off.has(p.name) ? "var(--vermilion)" : r?.of.includes(p.name) ? "var(--plum)" : "var(--ink)"
              }
              strokeWidth={r?.of.includes(p.name) ? 2 : 1}
            />
            <ellipse
              cx={px(p.x_mm!)}
              cy={py(p.y_mm!)}
              rx={Math.min(60, (p.sure_x_mm ?? 0) * 10 * k)}
              ry={Math.min(60, (p.sure_y_mm ?? 0) * 10 * k)}
              fill="none"
              stroke="var(--slate)"
              strokeDasharray="2 2"
            />
            <text
              // towards the middle of the board, clear of its edges
              x={px(p.x_mm!) + (p.x_mm! < x0 + w / 2 ? 9 : -9)}
              y={py(p.y_mm!) + (p.y_mm! > y0 + d / 2 ? 18 : -9)}
              textAnchor={p.x_mm! < x0 + w / 2 ? "start" : "end"}
              fontSize="12"
              fill={off.has(p.name) ? "var(--vermilion)" : "var(--ink)"}
            >
              {p.name}
              {off.has(p.name) && ` off by ${brief(off.get(p.name)!, 1)}`}
            </text>
          </g>
        ))}
        {known && (
          <Dimension x1={px(x0)} y1={py(y0)} x2={px(x0 + w)} y2={py(y0)} text={brief(w, 2)} off={-20} />
        )}
        {known && (
          <Dimension x1={px(x0)} y1={py(y0)} x2={px(x0)} y2={py(y0 + d)} text={brief(d, 2)} off={30} />
        )}
        {r && known && <Jaws reading={r} at={at} px={px} py={py} mid={[x0 + w / 2, y0 + d / 2]} />}
        {!known && (
          <text
            x={px(x0) + (w * k) / 2}
            y={py(y0) - (d * k) / 2}
            textAnchor="middle"
            fontSize="13"
            fill="var(--soft)"
          >
            Measure from edge to edge, both ways: the board is drawn from the readings.
          </text>
        )}
      </svg>
      {holes.length > 0 && (
        <p className="text-[12px] text-soft">
          Broken rings: how sure a hole’s centre is, ten times as large.
        </p>
      )}
    </div>
  );
}

/** Where the jaws close for a reading. */
function Jaws({
  reading: r,
  at,
  px,
  py,
  mid,
}: {
  reading: Book["readings"][number];
  at: Map<string, Placed>;
  px: (x: number) => number;
  py: (y: number) => number;
  mid: readonly [number, number];
}) {
  const [a, b] = r.of.map((n) => at.get(n));
  if (!a || !b || r.how === "depth") return null;
  const half = r.how === "outside" ? 0.5 : r.how === "inside" ? -0.5 : 0;
  const along = r.along === "y" ? "y" : "x";
  const end = (p: Placed, sign: number) => {
    const v = along === "x" ? p.x_mm : p.y_mm;
    return (v ?? 0) + (p.kind === "hole" ? sign * half * (p.d_mm ?? 0) : 0);
  };
  const across = along === "x" ? (a.y_mm ?? b.y_mm ?? mid[1]) : (a.x_mm ?? b.x_mm ?? mid[0]);
  const [s, e] = [end(a, -1), end(b, 1)];
  return along === "x" ? (
    <Dimension
      x1={px(s)}
      y1={py(across)}
      x2={px(e)}
      y2={py(across)}
      text={r.value || "?"}
      tone="var(--plum)"
    />
  ) : (
    <Dimension
      x1={px(across)}
      y1={py(s)}
      x2={px(across)}
      y2={py(e)}
      text={r.value || "?"}
      tone="var(--plum)"
    />
  );
}
