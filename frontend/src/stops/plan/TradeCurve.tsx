import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api } from "../../api/client";
import type { Trade } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { brief, show, ticks } from "../../ui/number";
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

function nearest<T>(all: readonly T[], far: (one: T) => number): T | null {
  return all.reduce<T | null>((best, one) => (best === null || far(one) < far(best) ? one : best), null);
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
  const [at, setAt] = useState<Trade["points"][number] | null>(null);
  const told = at ?? now;
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
        onPointerMove={(e) => {
          const box = e.currentTarget.getBoundingClientRect();
          const [px, py] = [
            ((e.clientX - box.left) / box.width) * w,
            ((e.clientY - box.top) / box.height) * h,
          ];
          setAt(nearest(t.points, (p) => Math.hypot(x(p.mass_g_m2) - px, y(p.stiffness_nm) - py)));
        }}
        onPointerLeave={() => {
          setAt(null);
        }}
      >
        <path d={`M${pad} 6V${h - 24}H${w - 4}`} stroke="var(--ink)" fill="none" />
        {ticks(mass).map((m) => (
          <g key={m}>
            <path d={`M${x(m)} ${h - 24}v4`} stroke="var(--ink)" />
            <text x={x(m)} y={h - 10} textAnchor="middle" fontSize="10" className="num" fill="var(--soft)">
              {brief(m)}
            </text>
          </g>
        ))}
        {ticks(stiff).map((s) => (
          <g key={s}>
            <path d={`M${pad} ${y(s)}h-4`} stroke="var(--ink)" />
            <text x={pad - 6} y={y(s) + 3} textAnchor="end" fontSize="10" className="num" fill="var(--soft)">
              {brief(s)}
            </text>
          </g>
        ))}
        {at && (
          <path
            d={`M${pad} ${y(at.stiffness_nm)}H${x(at.mass_g_m2)}V${h - 24}`}
            stroke="var(--plum)"
            strokeWidth="0.7"
            strokeDasharray="3 2"
            fill="none"
          />
        )}
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
          />
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
        <text x={w - 6} y={h - 30} textAnchor="end" fontSize="11" fill="var(--soft)">
          g/m²
        </text>
        <text x={pad + 5} y={13} fontSize="11" fill="var(--soft)">
          stiffness, N m
        </text>
      </svg>
      {told && (
        <p className="text-[12.5px] text-soft">
          {at ? "Here" : "Now"}: {told.perimeters} {unit}, {Math.round(told.infill * 100)} % infill:{" "}
          <span className="num">{brief(told.stiffness_nm, 2)}</span> N m,{" "}
          <span className="num">{brief(told.mass_g_m2, 0)}</span> g/m²
          {at && now && !at.now && `, ${show(at.stiffness_nm / now.stiffness_nm, 2)} × as stiff as now`}
        </p>
      )}
      <p className="text-[12.5px]">{t.advice}</p>
    </figure>
  );
}
