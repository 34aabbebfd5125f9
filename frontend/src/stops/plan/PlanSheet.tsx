import { useQuery } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { PieceOut, PinnedCut, Process, StateOut } from "../../api/schema";
import type { SheetProps } from "../../app/Workroom";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief, show } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { Why } from "../../ui/Why";

const FILAMENTS = (["PLA", "PETG", "ABS", "ASA", "PC", "PA-CF", "PETG-CF", "TPU"] as const).map((f) => ({
  value: f,
  label: f,
}));

/** Every piece over its bed, what it is printed from and how, what it takes. */
export function PlanSheet({ state, act }: SheetProps) {
  const { printer } = state.design;
  const process = state.design.process as Required<Process>;
  const workshop = useQuery({
    queryKey: ["workshop"],
    staleTime: Infinity,
    queryFn: async () => (await api.GET("/api/workshop")).data?.printers ?? [],
  });
  const set = (path: string, value: string | number, said: string) =>
    void act.edit([{ do: "set", path, value }], said);
  const pieces = state.view.pieces;
  const biggest = Math.max(...(workshop.data ?? [{ bed_mm: [220] }]).map((p) => p.bed_mm[0]!));
  return (
    <div className="h-full overflow-y-auto px-7 py-5" tabIndex={0} role="region" aria-label="Print plan">
      <div className="mb-4 space-y-1.5">
        <Choice
          label="Printer"
          value={printer}
          onPick={(v) => {
            set("printer", v, `print on ${v}`);
          }}
          options={(workshop.data ?? []).map((p) => ({
            value: p.key,
            label: `${p.name} (nozzle ${p.nozzle_mm}${p.enclosed ? ", enclosed" : ""})`,
          }))}
        />
        <Choice
          label="Filament"
          value={process.filament}
          options={FILAMENTS}
          onPick={(v) => {
            set("process.filament", v, `print it in ${v}`);
          }}
        />
        <div className="flex flex-wrap gap-x-5 gap-y-1.5">
          <NumberField
            label="Layer"
            inRow
            value={process.layer_mm}
            step={0.04}
            min={0.05}
            onCommit={(v) => {
              set("process.layer_mm", v, `layers of ${v} mm`);
            }}
          />
          <NumberField
            label="Perimeters"
            inRow
            unit=""
            value={process.perimeters}
            min={1}
            onCommit={(v) => {
              set("process.perimeters", Math.round(v), `${Math.round(v)} perimeters`);
            }}
          />
          <NumberField
            label="Infill"
            inRow
            unit="%"
            value={process.infill * 100}
            step={5}
            min={0}
            onCommit={(v) => {
              set("process.infill", Math.min(100, v) / 100, `infill ${v} %`);
            }}
          />
          <NumberField
            label="Brim"
            inRow
            value={process.brim_mm}
            min={0}
            onCommit={(v) => {
              set("process.brim_mm", v, `brim of ${v} mm`);
            }}
          />
        </div>
      </div>
      <ul className="flex flex-wrap items-start gap-x-8 gap-y-6 border-t border-rule pt-5">
        {pieces.map((p) => (
          <li key={p.name}>
            <Bed piece={p} state={state} biggest={biggest} />
          </li>
        ))}
      </ul>
      <div className="mt-6 overflow-x-auto">
        <table className="w-full min-w-[40rem] border-collapse text-left">
          <caption className="sr-only">Pieces</caption>
          <thead className="text-[12px] text-soft">
            <tr className="border-b border-ink/40">
              {["Piece", "Size as it lies", "Layers", "Filament", "Metres", "Time", "Cost", "Bed"].map(
                (h, i) => (
                  <th
                    key={h}
                    scope="col"
                    className={`py-1 pr-4 font-normal ${i > 0 && i < 7 ? "text-right" : ""}`}
                  >
                    {h}
                  </th>
                ),
              )}
            </tr>
          </thead>
          <tbody>
            {pieces.map((p) => (
              <tr key={p.name} className="border-b border-rule">
                <th scope="row" className="py-1.5 pr-4 font-medium">
                  {p.name}
                </th>
                <td className="num pr-4 text-right">{p.bbox_mm.map((v) => brief(v, 1)).join(" × ")}</td>
                <td className="num pr-4 text-right">{p.estimate.layers}</td>
                <td className="num pr-4 text-right">
                  <Why label={`Filament of the ${p.name}`} trail={p.estimate.mass_g}>
                    {show(p.estimate.mass_g.value, 0)} g
                  </Why>
                </td>
                <td className="num pr-4 text-right">{show(p.estimate.filament_m, 1)}</td>
                <td className="num pr-4 text-right">
                  <Why label={`Time of the ${p.name}`} trail={p.estimate.time_s}>
                    {hours(p.estimate.time_s.value)}
                  </Why>
                </td>
                <td className="num pr-4 text-right">{show(p.estimate.money, 2)} EUR</td>
                <td className={p.fits_bed ? "text-verdigris" : "text-vermilion"}>
                  {p.fits_bed ? (p.turned ? "fits, turned" : "fits") : `${brief(p.over_mm, 1)} mm too large`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {state.view.cuts.some((c) => c.cuts.length > 0) && <Cuts state={state} act={act} />}
    </div>
  );
}

export function hours(s: number): string {
  const m = Math.round(s / 60);
  return `${Math.floor(m / 60)} h ${String(m % 60).padStart(2, "0")}`;
}

/** Where each part is cut, and giving the cut a place of one's own. */
function Cuts({ state, act }: SheetProps) {
  return (
    <section className="mt-6 border-t border-rule pt-4">
      <h2 className="mb-1 text-[15px]">Cuts</h2>
      {state.view.cuts.map((c) =>
        c.cuts.map((cut) => (
          <div key={`${c.part}-${cut.at_mm}`} className="flex flex-wrap items-baseline gap-4 py-1">
            <span className="w-14 font-medium">{c.part}</span>
            <NumberField
              label={`from the ${cut.axis === "x" ? "left" : "front"}`}
              value={cut.at_mm}
              onCommit={(v) =>
                void act.edit(
                  [{ do: "put-cut", cut: { part: c.part as PinnedCut["part"], axis: cut.axis, at_mm: v } }],
                  `cut the ${c.part} at ${v}`,
                )
              }
            />
            <span className="text-soft">
              {cut.dowels.length} dowel pins of 3 mm
              {cut.crosses.length > 0 && `; through the ${cut.crosses.join(", ")}`}
            </span>
            {cut.pinned && (
              <Button
                onClick={() =>
                  void act.edit(
                    [{ do: "free-cuts", part: c.part as PinnedCut["part"] }],
                    "cut where the planner wants",
                  )
                }
              >
                Give it back to the planner
              </Button>
            )}
          </div>
        )),
      )}
    </section>
  );
}

/** A piece on its bed, seen from above: usable area dashed, brim round the outline. */
function Bed({ piece: p, state, biggest }: { piece: PieceOut; state: StateOut; biggest: number }) {
  const { printer, cuts } = state.view;
  const outline = useQuery({
    queryKey: ["outline", p.digest],
    staleTime: Infinity,
    queryFn: async () =>
      (await api.GET("/api/outlines/{digest}", { params: { path: { digest: p.digest } } })).data?.loops ?? [],
  });
  const k = 340 / biggest;
  const [bx, by] = printer.bed_mm as [number, number, number];
  const usable = cuts.find((c) => c.part === p.part)!.usable_mm;
  const [w, d] = p.bbox_mm as [number, number, number];
  const brim = state.design.process.brim_mm ?? 0;
  const loops = outline.data ?? [];
  const [sx, sy] = p.turned ? [d, w] : [w, d];
  const path = loops.map((l) => "M" + l.map(([x, y]) => `${x} ${y}`).join("L") + "Z").join("");
  const tone = p.fits_bed ? "var(--plum)" : "var(--vermilion)";
  const pad = Math.max(0, sx - bx, sy - by) / 2 + 6;
  return (
    <figure>
      <svg
        width={(bx + 2 * pad) * k}
        height={(by + 2 * pad) * k}
        viewBox={`${-pad} ${-pad} ${bx + 2 * pad} ${by + 2 * pad}`}
        role="img"
        aria-label={`${p.name} on the bed of ${printer.name}: ${p.fits_bed ? "fits" : `${brief(p.over_mm, 1)} mm too large`}`}
      >
        <rect width={bx} height={by} fill="var(--paper)" stroke="var(--ink)" strokeWidth="1" />
        <path d={grid(bx, by)} stroke="var(--rule)" strokeWidth="0.5" />
        <rect
          x={(bx - usable[0]) / 2}
          y={(by - usable[1]) / 2}
          width={usable[0]}
          height={usable[1]}
          fill="none"
          stroke="var(--slate)"
          strokeDasharray="4 3"
          strokeWidth="0.8"
        />
        <g
          transform={`translate(${bx / 2} ${by / 2}) scale(1 -1) ${p.turned ? "rotate(90)" : ""} translate(${-w / 2} ${-d / 2})`}
        >
          <path
            d={path}
            fill={tone}
            fillOpacity="0.12"
            stroke={tone}
            strokeOpacity="0.22"
            strokeWidth={2 * brim}
            strokeLinejoin="round"
          />
          <path d={path} fill={tone} fillOpacity="0.16" stroke={tone} strokeWidth="0.9" fillRule="evenodd" />
        </g>
      </svg>
      <figcaption className="mt-0.5 flex items-baseline gap-3">
        <span className="font-medium">{p.name}</span>
        <span className="num text-soft">
          {show(p.estimate.mass_g.value, 0)} g · {hours(p.estimate.time_s.value)}
        </span>
        <span className={p.fits_bed ? "text-verdigris" : "text-vermilion"}>
          {p.fits_bed ? "" : `${brief(p.over_mm, 1)} mm over`}
        </span>
      </figcaption>
    </figure>
  );
}

function grid(w: number, h: number): string {
  let d = "";
  for (let x = 20; x < w; x += 20) d += `M${x} 0V${h}`;
  for (let y = 20; y < h; y += 20) d += `M0 ${y}H${w}`;
  return d;
}
