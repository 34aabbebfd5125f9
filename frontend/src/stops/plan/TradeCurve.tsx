import { useQuery } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { Trade } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { brief } from "../../ui/number";
import { Why } from "../../ui/Why";

/** Walls against infill: grams along, stiffness up, the line of the best, and where the part stands now. */
export function TradeCurve({ state, part }: Pick<SheetProps, "state"> & { part: string }) {
  const trades = useQuery({
    queryKey: ["trade", state.id, state.version, part],
    staleTime: Infinity,
    queryFn: async () =>
      (await api.GET("/api/designs/{id}/trade/{part}", { params: { path: { id: state.id, part } } })).data
        ?.trades ?? [],
  });
  return (
    <div className="grid grid-cols-2 gap-8">
      {trades.data?.map((t) => (
        <Curve key={t.plate.name} trade={t} />
      ))}
    </div>
  );
}

function Curve({ trade: t }: { trade: Trade }) {
  const [w, h, pad] = [330, 190, 34];
  const mass = Math.max(...t.points.map((p) => p.mass_g_m2)) * 1.04;
  const stiff = Math.max(...t.points.map((p) => p.stiffness_nm)) * 1.06;
  const x = (m: number) => pad + (m / mass) * (w - pad - 8);
  const y = (s: number) => h - 24 - (s / stiff) * (h - 34);
  const best = t.points.filter((p) => p.best).sort((a, b) => a.mass_g_m2 - b.mass_g_m2);
  const unit = t.plate.pose === "standing" ? "perimeters" : "solid layers a side";
  const now = t.points.find((p) => p.now);
  return (
    <figure>
      <figcaption className="mb-1">
        <span className="font-medium">{t.plate.name}</span>{" "}
        <span className="text-soft">
          {brief(t.plate.thick_mm, 2)} mm, {t.plate.pose}; stiffness now{" "}
        </span>
        <Why trail={t.now} label={`Stiffness of the ${t.plate.name}`}>
          <span className="num">{brief(t.now.value, 2)}</span> N m
        </Why>
      </figcaption>
      <svg
        viewBox={`0 0 ${w} ${h}`}
        className="w-full"
        role="img"
        aria-label={`${t.plate.name}: ${t.advice}`}
      >
        <path d={`M${pad} 6V${h - 24}H${w - 4}`} stroke="var(--ink)" fill="none" />
        <path
          d={best.map((p, i) => `${i ? "L" : "M"}${x(p.mass_g_m2)} ${y(p.stiffness_nm)}`).join("")}
          stroke="var(--verdigris)"
          strokeWidth="1.4"
          fill="none"
        />
        {t.points.map((p) => (
          <circle
            key={`${p.perimeters}-${p.infill}`}
            cx={x(p.mass_g_m2)}
            cy={y(p.stiffness_nm)}
            r={p.now ? 4.5 : 2.2}
            fill={p.now ? "var(--plum)" : p.best ? "var(--verdigris)" : "var(--slate)"}
            fillOpacity={p.now || p.best ? 1 : 0.4}
          >
            <title>{`${p.perimeters} ${unit}, ${Math.round(p.infill * 100)} %: ${brief(p.stiffness_nm, 2)} N m, ${brief(p.mass_g_m2, 0)} g/m²`}</title>
          </circle>
        ))}
        {now && (
          <text
            x={x(now.mass_g_m2) - 8}
            y={y(now.stiffness_nm) + 14}
            textAnchor="end"
            fontSize="11.5"
            fill="var(--plum)"
          >
            now
          </text>
        )}
        <text x={w - 6} y={h - 8} textAnchor="end" fontSize="11" fill="var(--soft)">
          grams per m² →
        </text>
        <text
          x={12}
          y={h / 2}
          fontSize="11"
          fill="var(--soft)"
          textAnchor="middle"
          transform={`rotate(-90 12 ${h / 2})`}
        >
          stiffness →
        </text>
      </svg>
      <p className="text-[12.5px]">{t.advice}</p>
    </figure>
  );
}
