import { useQuery } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { Budget, Source } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { brief } from "../../ui/number";

/** Watts by rail from every component, what feeds them, and the one-line diagram drawn from it. */
export function PowerRoom({ state, act }: SheetProps) {
  const budget = useQuery({
    queryKey: ["power", state.id, state.version],
    queryFn: async () =>
      (await api.GET("/api/designs/{id}/power", { params: { path: { id: state.id } } })).data,
    placeholderData: (old) => old,
  });
  const b = budget.data;
  if (!b) return <p className="p-6 text-soft">Adding up …</p>;
  const w = (v: { idle: number; typical: number; peak: number }) =>
    `${brief(v.idle, 1)} / ${brief(v.typical, 1)} / ${brief(v.peak, 1)}`;
  const rails = [...new Set(b.branches.map((x) => x.rail))];
  return (
    <div className="h-full overflow-y-auto px-6 py-4" tabIndex={0} role="region" aria-label="Power">
      <p className="mb-3">
        The components take <span className="num">{w(b.components)}</span> W, idle, typical and peak; from
        outside come <span className="num">{w(b.wall)}</span> W.
      </p>
      {b.branches.length === 0 && <p className="text-soft">Nothing on the bench takes power yet.</p>}
      <OneLine budget={b} />
      <div className="mt-4 space-y-5">
        <table className="w-full border-collapse text-left text-[12.5px]">
          <caption className="mb-1 text-left text-[14px]">Loads</caption>
          <thead className="text-soft">
            <tr className="border-b border-ink/40">
              <th scope="col" className="py-0.5 font-normal">
                Component
              </th>
              <th scope="col" className="font-normal">
                Rail
              </th>
              <th scope="col" className="font-normal">
                Through
              </th>
              <th scope="col" className="text-right font-normal">
                idle / typical / peak W
              </th>
              <th scope="col" className="pl-3 font-normal">
                Fed by
              </th>
            </tr>
          </thead>
          <tbody>
            {b.branches.map((x) => (
              <tr key={`${x.component}/${x.rail}/${x.plug}`} className="border-b border-rule">
                <th scope="row" className="py-1 font-medium">
                  {x.name}
                </th>
                <td>{x.rail}</td>
                <td
                  className={
                    x.plug_limit_w !== null && x.watts.peak > (x.plug_limit_w ?? 0) ? "text-vermilion" : ""
                  }
                >
                  {x.plug}
                </td>
                <td className="num text-right whitespace-nowrap">{w(x.watts)}</td>
                <td className="pl-3">
                  <select
                    aria-label={`${x.name}, ${x.rail}: fed by`}
                    value={x.source ?? ""}
                    className="max-w-56 rounded-[3px] border border-rule bg-leaf px-1 py-0.5"
                    onChange={(e) =>
                      void act.edit(
                        [
                          {
                            do: "put-feed",
                            component: x.component,
                            rail: x.rail,
                            source: e.target.value || null,
                          },
                        ],
                        `${x.name} fed by ${e.target.value || "whatever can"}`,
                      )
                    }
                  >
                    <option value="">nothing named</option>
                    {b.sources
                      .filter((s) => s.rails.some((r) => r.rail === x.rail) && s.id !== x.component)
                      .map((s) => (
                        <option key={s.id} value={s.id}>
                          {s.name}
                        </option>
                      ))}
                  </select>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <section aria-label="Sources" className="max-w-2xl text-[12.5px]">
          <h2 className="mb-1 text-[14px]">Sources</h2>
          {b.sources.length === 0 && (
            <p className="text-soft">
              Nothing yet. Put a supply or converter on the bench, or say which adapter feeds a port.
            </p>
          )}
          <ul className="space-y-2.5">
            {b.sources.map((s) => (
              <li key={s.id}>
                <span className="flex items-baseline justify-between gap-2">
                  <span className="font-medium">{s.name}</span>
                  <span className={s.margin < s.wanted_margin ? "text-vermilion" : "text-verdigris"}>
                    <span className="num">{brief(s.watts.peak, 1)}</span> of{" "}
                    <span className="num">{brief(s.rating_w, 0)}</span> W, {brief(s.margin * 100, 0)} % to
                    spare
                  </span>
                </span>
                <Load source={s} />
                {s.kind === "adapter" && (
                  <span className="mt-1 flex items-baseline gap-2">
                    <NumberField
                      tried
                      label="Its label"
                      unit="W"
                      value={s.rating_w}
                      min={1}
                      onCommit={(v) =>
                        void act.edit(
                          [{ do: "put-adapter", adapter: { port: s.id, rail: s.rails[0]!.rail, watts: v } }],
                          `adapter of ${v} W`,
                        )
                      }
                    />
                    <Button
                      onClick={() =>
                        void act.edit([{ do: "remove-adapter", port: s.id }], "no adapter there")
                      }
                    >
                      Unplug
                    </Button>
                  </span>
                )}
              </li>
            ))}
          </ul>
          {b.cables.length > 0 && (
            <>
              <h3 className="mt-4 mb-1">Cables needed</h3>
              <ul>
                {b.cables.map((c, i) => (
                  <li key={i}>
                    {c.plug}: {c.source} to {c.component}, {c.rail}
                  </li>
                ))}
              </ul>
            </>
          )}
        </section>
      </div>
      <p className="mt-5 border-t border-rule pt-2 text-[12px] text-soft">
        Rails in use: {rails.join(", ") || "none"}. Do not open a power supply: its capacitors hold a charge
        for months. Mains wiring and earthing follow local codes and belong to a licensed electrician.
      </p>
    </div>
  );
}

function Load({ source: s }: { source: Source }) {
  const share = (v: number) => Math.min(1, v / s.rating_w) * 100;
  return (
    <svg width="100%" height="12" aria-hidden className="mt-0.5">
      <rect width="100%" height="12" fill="none" stroke="var(--rule)" />
      <rect
        width={`${share(s.watts.peak)}%`}
        height="12"
        fill="color-mix(in srgb, var(--slate) 30%, var(--leaf))"
      />
      <rect
        width={`${share(s.watts.typical)}%`}
        height="12"
        fill="color-mix(in srgb, var(--slate) 60%, var(--leaf))"
      />
      <line
        x1={`${(1 - s.wanted_margin) * 100}%`}
        x2={`${(1 - s.wanted_margin) * 100}%`}
        y1="0"
        y2="12"
        stroke="var(--vermilion)"
      />
    </svg>
  );
}

/** From outside on the left over supplies and converters to the components: one line for each rail. */
function OneLine({ budget: b }: { budget: Budget }) {
  const first = b.sources.filter((s) => !s.fed_by);
  const second = b.sources.filter((s) => s.fed_by);
  const fed = b.branches.filter((x) => x.source);
  const hungry = b.branches.filter((x) => !x.source);
  const rows = [...fed, ...hungry];
  if (rows.length === 0) return null;
  const step = 26;
  const height = Math.max(rows.length, b.sources.length) * step + 16;
  const y = (i: number, n: number) => 8 + ((i + 0.5) * (height - 16)) / Math.max(n, 1);
  const at = new Map<string, readonly [number, number]>();
  first.forEach((s, i) => at.set(s.id, [150, y(i, first.length)]));
  second.forEach((s, i) => at.set(s.id, [355, y(i, second.length)]));
  const wide = 132;
  const box = (s: Source) => {
    const [x, cy] = at.get(s.id)!;
    return (
      <g key={s.id}>
        <rect
          x={x}
          y={cy - 16}
          width={wide}
          height={32}
          fill="var(--leaf)"
          stroke={s.margin < s.wanted_margin ? "var(--vermilion)" : "var(--ink)"}
        />
        <text x={x + 6} y={cy - 3} fontSize="11" fill="var(--ink)">
          {s.name.length > 21 ? `${s.name.slice(0, 20)}…` : s.name}
        </text>
        <text x={x + 6} y={cy + 11} fontSize="10.5" fill="var(--soft)" className="num">
          {brief(s.watts.peak, 1)} of {brief(s.rating_w, 0)} W
        </text>
      </g>
    );
  };
  const line = (x1: number, y1: number, x2: number, y2: number, tone = "var(--slate)") => {
    const mid = (x1 + x2) / 2;
    return `M${x1} ${y1}H${mid}V${y2}H${x2}` + (tone ? "" : "");
  };
  return (
    <svg
      width="100%"
      viewBox={`0 0 780 ${height}`}
      role="img"
      aria-label="One-line diagram of the power"
      className="max-w-[860px]"
    >
      <text x="4" y={height / 2 - 6} fontSize="11" fill="var(--ink)">
        from outside
      </text>
      <text x="4" y={height / 2 + 9} fontSize="10.5" fill="var(--soft)" className="num">
        {brief(b.wall.peak, 1)} W
      </text>
      {first.map((s) => (
        <path key={s.id} d={line(86, height / 2, 150, at.get(s.id)![1])} stroke="var(--ink)" fill="none" />
      ))}
      {second.map((s) => {
        const from = at.get(s.fed_by ?? "");
        return (
          from && (
            <path
              key={s.id}
              d={line(from[0] + wide, from[1], 355, at.get(s.id)![1])}
              stroke="var(--slate)"
              fill="none"
            />
          )
        );
      })}
      {rows.map((x, i) => {
        const cy = y(i, rows.length);
        const from = x.source ? at.get(x.source) : undefined;
        const over = x.plug_limit_w !== null && x.plug_limit_w !== undefined && x.watts.peak > x.plug_limit_w;
        return (
          <g key={`${x.component}/${x.rail}/${x.plug}`}>
            {from ? (
              <path
                d={line(from[0] + wide, from[1], 575, cy)}
                stroke={over ? "var(--vermilion)" : "var(--slate)"}
                fill="none"
              />
            ) : (
              <path d={`M548 ${cy}H575`} stroke="var(--vermilion)" strokeDasharray="3 3" />
            )}
            <text x="548" y={cy - 3} fontSize="10" fill="var(--soft)" textAnchor="end">
              {x.rail}, {x.plug}
            </text>
            <circle cx="578" cy={cy} r="3" fill={from ? "var(--ink)" : "var(--vermilion)"} />
            <text x="588" y={cy + 4} fontSize="11.5" fill="var(--ink)">
              {x.name}{" "}
              <tspan className="num" fill={from ? "var(--soft)" : "var(--vermilion)"}>
                {brief(x.watts.peak, 1)} W{from ? "" : ", not fed"}
              </tspan>
            </text>
          </g>
        );
      })}
      {b.sources.map(box)}
    </svg>
  );
}
