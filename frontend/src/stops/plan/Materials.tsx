import { useQuery } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { Candidate, Process } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { brief, show } from "../../ui/number";
import { Why } from "../../ui/Why";

/** Filaments for a part, ranked: what each bears against the heat it sees, reasons, what rules it out. */
export function Materials({
  state,
  part,
  process,
  onPick,
}: Pick<SheetProps, "state"> & {
  part: string;
  process: Process;
  onPick: (kind: Candidate["kind"]) => void;
}) {
  const advice = useQuery({
    queryKey: ["materials", state.id, state.version],
    staleTime: Infinity,
    queryFn: async () =>
      (await api.GET("/api/designs/{id}/materials", { params: { path: { id: state.id } } })).data?.advice ??
      [],
  });
  const a = advice.data?.find((x) => x.part === part);
  if (!a) return <p className="text-soft">Weighing the filaments …</p>;
  const heat = a.heat_c.value;
  const top = 150;
  return (
    <div>
      <p className="mb-2">
        The {part} sees about{" "}
        <Why trail={a.heat_c} label={`Heat of the ${part}`}>
          <span className="num">{brief(heat, 0)}</span> °C
        </Why>
        . The bar shows what each kind bears under load; the line is what the part sees.
      </p>
      <ul className="divide-y divide-rule border-y border-rule">
        {a.candidates.map((c) => (
          <li
            key={c.kind}
            className="grid grid-cols-[5.6rem_9.5rem_minmax(0,1fr)_auto] items-start gap-x-4 py-1.5"
          >
            <div>
              <p
                className={`font-medium ${c.kind === process.filament ? "text-plum" : c.suits ? "" : "text-soft"}`}
              >
                {c.kind}
              </p>
              <p className="text-[11.5px] text-soft">{c.school}</p>
            </div>
            <div>
              <svg viewBox={`0 0 ${top} 12`} className="h-3 w-full" aria-hidden>
                <rect
                  y="3"
                  width={Math.max(0, heat + c.margin_k)}
                  height="6"
                  fill="var(--slate)"
                  fillOpacity="0.35"
                />
                <path
                  d={`M${heat} 0V12`}
                  stroke={c.margin_k < 10 ? "var(--vermilion)" : "var(--verdigris)"}
                  strokeWidth="1.6"
                />
              </svg>
              <p className="num text-[11.5px]">
                {c.margin_k >= 0 ? "+" : "−"}
                {show(Math.abs(c.margin_k), 0)} K · {show(c.money, 2)} EUR
              </p>
            </div>
            <div className="text-[12.5px] leading-snug">
              {c.blocked.length > 0 && <p className="text-vermilion">{c.blocked.join("; ")}</p>}
              {c.reasons.length > 0 && <p>{c.reasons.join("; ")}</p>}
              {c.against.length > 0 && <p className="text-saffron">{c.against.join("; ")}</p>}
              {c.suits && <p className="text-soft">{c.care.join("; ")}</p>}
            </div>
            {c.kind === process.filament ? (
              <span className="text-[12px] text-plum">chosen</span>
            ) : (
              <Button
                onClick={() => {
                  onPick(c.kind);
                }}
              >
                Take it
              </Button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
