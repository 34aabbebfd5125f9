import type { KindShare } from "../../api/schema";
import { duration } from "../../ui/number";

/** Where the hours of a part go: one strip of ink, the heaviest kind first and darkest. */
export function HoursBar({ shares, label }: { shares: readonly KindShare[]; label: string }) {
  const sorted = [...shares].sort((a, b) => b.time_s - a.time_s);
  const total = sorted.reduce((s, k) => s + k.time_s, 0);
  const said = sorted.map((k) => `${k.kind} ${duration(k.time_s)}`).join(", ");
  return (
    <svg
      viewBox="0 0 100 9"
      preserveAspectRatio="none"
      className="h-[11px] w-full"
      role="img"
      aria-label={`${label}: ${said}`}
    >
      {sorted.map((k, i) => {
        const w = (k.time_s / total) * 100;
        const at = sorted.slice(0, i).reduce((x, q) => x + (q.time_s / total) * 100, 0);
        return (
          <rect
            key={k.kind}
            x={at}
            y={0}
            width={Math.max(0, w - 0.25)}
            height={9}
            fill="var(--ink)"
            fillOpacity={Math.max(0.1, 0.86 * 0.66 ** i)}
          >
            <title>{`${k.kind}: ${duration(k.time_s)}`}</title>
          </rect>
        );
      })}
    </svg>
  );
}
