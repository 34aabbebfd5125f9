import type { HardwareTable } from "../../api/schema";
import { brief } from "../../ui/number";

type Plan = NonNullable<HardwareTable["magnets"]>["parts"][number];

const WIDE = 250; // of the widest part on the paper
const DISC = 7.5; // the least that a letter has room in
const ROOM = 14; // round a part: for what stands over its edge

/** Every part that magnets hold, seen from inside as it lies open on the table, with the pole that faces out of each pocket. */
export function PolarityPlan({ parts, heads }: { parts: readonly Plan[]; heads: boolean }) {
  const widest = Math.max(...parts.map((p) => p.hi_mm[0] - p.lo_mm[0]), 1);
  const scale = WIDE / widest;
  return (
    <div className="mt-4">
      <h3 className="text-[13.5px]">Polarity plan</h3>
      <p className="mb-2 max-w-[46rem] text-[12.5px] text-soft">
        Each part from inside, with the pole that faces out of its pocket;{" "}
        {heads
          ? "it meets the head of a screw, by either pole."
          : "the pocket that it meets shows the other."}{" "}
        A pocket with one notch in its rim shows N, with two S. Mark N on every magnet with a pen first, from
        one stack.
      </p>
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        {parts.map((p) => (
          <Part key={p.held.part} plan={p} scale={scale} />
        ))}
      </div>
    </div>
  );
}

/** A disc or a block where it lies, large enough for its letter. */
function Pocket(o: { at: [number, number]; half: [number, number]; round: boolean; fill: string }) {
  const line = { fill: o.fill, stroke: "var(--ink)", strokeWidth: "1.2" };
  return o.round ? (
    <circle cx={o.at[0]} cy={o.at[1]} r={o.half[0]} {...line} />
  ) : (
    <rect
      x={o.at[0] - o.half[0]}
      y={o.at[1] - o.half[1]}
      width={2 * o.half[0]}
      height={2 * o.half[1]}
      {...line}
    />
  );
}

function Part({ plan: p, scale }: { plan: Plan; scale: number }) {
  const [w, h] = [(p.hi_mm[0] - p.lo_mm[0]) * scale, (p.hi_mm[1] - p.lo_mm[1]) * scale];
  // from inside left and right change places
  const x = (u: number) => (p.hi_mm[0] - u) * scale;
  const y = (v: number) => (p.hi_mm[1] - v) * scale;
  const said = p.pockets.map((q) => `${q.pole} on ${q.into}`).join(", ");
  const notch = p.notch;
  return (
    <figure>
      <svg
        role="img"
        aria-label={`${p.held.part} from inside: ${said}`}
        width={w + 2 * ROOM}
        height={h + 2 * ROOM}
        viewBox={`${-ROOM} ${-ROOM} ${w + 2 * ROOM} ${h + 2 * ROOM}`}
      >
        <rect width={w} height={h} fill="var(--leaf)" stroke="var(--ink)" strokeWidth="1.2" />
        {notch && (
          <path
            d={`M${x(notch[0])} ${y(Math.min(notch[3], p.hi_mm[1]))}V${y(Math.max(notch[1], p.lo_mm[1]))}H${x(notch[2])}V${y(Math.min(notch[3], p.hi_mm[1]))}`}
            fill="var(--plumwash)"
            stroke="var(--plum)"
            strokeWidth="1"
          />
        )}
        {p.pockets.map((q) => (
          <g key={`${q.at_mm[0]} ${q.at_mm[1]}`}>
            <Pocket
              at={[x(q.at_mm[0]), y(q.at_mm[1])]}
              half={[Math.max(DISC, (q.size_mm[0] / 2) * scale), Math.max(DISC, (q.size_mm[1] / 2) * scale)]}
              round={!q.block}
              fill={q.pole === "N" ? "var(--ink)" : "var(--leaf)"}
            />
            <text
              x={x(q.at_mm[0])}
              y={y(q.at_mm[1])}
              textAnchor="middle"
              dominantBaseline="central"
              fontSize="11"
              fill={q.pole === "N" ? "var(--leaf)" : "var(--ink)"}
            >
              {q.pole}
            </text>
          </g>
        ))}
      </svg>
      <figcaption className="px-3.5 text-[12px]">
        <span className="font-medium">{p.held.part}</span>{" "}
        <span className="num text-soft">
          {brief(p.hi_mm[0] - p.lo_mm[0], 1)} x {brief(p.hi_mm[1] - p.lo_mm[1], 1)}
        </span>
      </figcaption>
    </figure>
  );
}
