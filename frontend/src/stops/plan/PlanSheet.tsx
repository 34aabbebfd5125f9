import { Tabs } from "radix-ui";
import { useState } from "react";

import type { Edit } from "../../api/client";
import type { Estimate, PieceOut, Process } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief, duration, lies, show } from "../../ui/number";
import { Why } from "../../ui/Why";
import { Bed } from "./Bed";
import { Coupons } from "./Coupons";
import { GcodeDrop } from "./GcodeDrop";
import { HoursBar } from "./HoursBar";
import { LayerWalk } from "./LayerWalk";
import { Materials } from "./Materials";
import { ProcessFields } from "./ProcessFields";
import { Rack } from "./Rack";
import { RealHours } from "./RealHours";
import { Sides } from "./Sides";
import { TradeCurve } from "./TradeCurve";
import { useEffects } from "./useEffects";
import { useWorkshop } from "../../desk/useWorkshop";
import { WhatIfTable } from "./WhatIfTable";

/** Every piece over its bed, what it is made of, where its hours go, and what would change them. */
export function PlanSheet({ state, act }: SheetProps) {
  const { printer } = state.design;
  const common = state.design.process;
  const workshop = useWorkshop().data?.workshop;
  const pieces = state.view.pieces;
  const [picked, setPicked] = useState<string | null>(null);
  const pick = pieces.find((p) => p.name === picked);
  const many = pieces.length > 3;
  const [bx] = state.view.printer.bed_mm;
  const scale = (many ? 166 : 252) / bx;
  return (
    <div className="h-full overflow-y-auto px-7 py-4" tabIndex={0} role="region" aria-label="Print plan">
      <div className="mb-4 space-y-1.5">
        <Choice
          tried
          label="Printer"
          value={printer}
          onPick={(v) => void act.edit([{ do: "set", path: "printer", value: v }], `print on ${v}`)}
          options={(workshop?.printers ?? [state.view.printer]).map((p) => ({
            value: p.key,
            label: `${p.name} (nozzle ${p.nozzle_mm}${p.enclosed ? ", enclosed" : ""})`,
          }))}
        />
        <ProcessFields
          process={common}
          printer={state.view.printer}
          held={pieces.find((p) => !p.own_process)?.held}
          effects={useEffects(state)}
          onSet={(field, value, said) =>
            void act.edit([{ do: "set", path: `process.${field}`, value }], said)
          }
        />
      </div>
      <ul className="flex flex-wrap items-end gap-x-5 gap-y-4 border-t border-rule pt-4">
        {pieces.map((p) => (
          <li key={p.name}>
            <Bed piece={p} state={state} scale={scale} />
            <p className="mt-0.5 max-w-[18rem]">
              <span className="font-medium">{p.name}</span>{" "}
              {!p.fits_bed && <span className="text-vermilion">{brief(p.over_mm, 1)} mm over</span>}
              {p.own_process && <span className="text-[11.5px] text-plum">its own process</span>}
            </p>
          </li>
        ))}
      </ul>
      {state.view.pauses.length > 0 && <Pauses pauses={state.view.pauses} />}
      <PieceTable
        pieces={pieces}
        picked={picked}
        onPick={(name) => {
          setPicked(name === picked ? null : name);
        }}
      />
      {pick && <PieceRoom key={pick.name} state={state} act={act} piece={pick} />}
      <Coupons state={state} act={act} />
      <WhatIfTable state={state} act={act} />
      {workshop && <Rack state={state} workshop={workshop} />}
      <section className="mt-7 border-t border-rule pt-4 pb-6">
        <h2 className="mb-2 text-[15px]">G-code against this plan</h2>
        <GcodeDrop
          printer={printer}
          plan={{
            time_s: pieces.reduce((s, p) => s + (p.estimate?.time_s.value ?? 0), 0),
            metres: pieces.reduce((s, p) => s + (p.estimate?.filament_m ?? 0), 0),
          }}
        />
      </section>
    </div>
  );
}

/** Layers after which a print waits for somebody who puts something in. */
function Pauses({ pauses }: { pauses: SheetProps["state"]["view"]["pauses"] }) {
  return (
    <section className="mt-4 border-l-2 border-saffron pl-3" aria-labelledby="pauses">
      <h2 id="pauses" className="text-[15px]">
        The print pauses
      </h2>
      <ul>
        {pauses.map((p) => (
          <li key={`${p.piece} ${p.after_layer} ${p.magnet}`}>
            <span className="font-medium">{p.piece}</span>: {p.words}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What a piece takes: grams, metres, support, hours, cost. */
function Figures({ name, filament, e }: { name: string; filament: string; e: Estimate }) {
  return (
    <>
      <td className="num pr-3 text-right whitespace-nowrap">
        <Why label={`Filament of the ${name}`} trail={e.mass_g}>
          {show(e.mass_g.value, 0)} g
        </Why>
        <span className="block text-[11px] text-soft">{filament}</span>
      </td>
      <td className="num pr-3 text-right whitespace-nowrap">
        {show(e.filament_m, 1)}
        <span className="block text-[11px] text-soft">{e.layers} layers</span>
      </td>
      <td className="num pr-3 text-right whitespace-nowrap">{show(e.support_g, 1)} g</td>
      <td className="num pr-3 text-right whitespace-nowrap">
        <Why label={`Time of the ${name}`} trail={e.time_s}>
          {e.level === "preview" && "about "}
          {duration(e.time_s.value)}
        </Why>
        <span className="block text-[11px] text-soft">
          {duration(e.time_low_s)} – {duration(e.time_high_s)}
        </span>
      </td>
      <td className="w-[22%] max-w-0 pr-3 align-middle">
        <HoursBar shares={e.by_kind} label={`Hours of the ${name}`} />
        <span className="block truncate text-[11px] text-soft">
          {[...e.by_kind]
            .sort((a, b) => b.time_s - a.time_s)
            .slice(0, 2)
            .map((k) => `${k.kind} ${Math.round((k.time_s / e.time_s.value) * 100)} %`)
            .join(", ")}
        </span>
      </td>
      <td className="num pr-3 text-right">{show(e.money, 2)}</td>
    </>
  );
}

function PieceTable({
  pieces,
  picked,
  onPick,
}: {
  pieces: readonly PieceOut[];
  picked: string | null;
  onPick: (name: string) => void;
}) {
  const heads = [
    "Piece",
    "Filament",
    "Metres",
    "Support",
    "Time, 9 in 10",
    "Where the hours go",
    "Cost",
    "Bed",
  ];
  return (
    <div className="mt-5 overflow-x-auto">
      <table className="w-full min-w-[44rem] border-collapse text-left">
        <caption className="sr-only">Pieces</caption>
        <thead className="text-[12px] text-soft">
          <tr className="border-b border-ink/40">
            {heads.map((h, i) => (
              <th
                key={h}
                scope="col"
                className={`py-1 pr-3 font-normal ${[1, 2, 3, 4, 6].includes(i) ? "text-right" : ""}`}
              >
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {pieces.map((p) => {
            const e = p.estimate;
            return (
              <tr
                key={p.name}
                className={`border-b border-rule ${picked === p.name ? "bg-plumwash/60" : ""}`}
              >
                <th scope="row" className="py-1.5 pr-3 font-medium">
                  <button
                    type="button"
                    aria-expanded={picked === p.name}
                    onClick={() => {
                      onPick(p.name);
                    }}
                    className="cursor-pointer border-b border-plum/50 text-left hover:text-plum"
                  >
                    {p.name}
                  </button>
                  <span className="num block text-[11px] font-normal whitespace-nowrap text-soft">
                    {p.bbox_mm.map((v) => brief(v, 1)).join(" × ")}
                  </span>
                </th>
                {e ? (
                  <Figures name={p.name} filament={p.filament} e={e} />
                ) : (
                  <td colSpan={6} className="pr-4 text-soft">
                    Grams and hours could not be worked out: the concern says why.
                  </td>
                )}
                <td className={`whitespace-nowrap ${p.fits_bed ? "text-verdigris" : "text-vermilion"}`}>
                  {p.fits_bed ? `fits${lies(p.angle_deg)}` : "too large"}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="mt-1.5 text-[12px] text-soft">
        A piece’s name opens its layers, sides, material and fill. Times are{" "}
        {pieces.some((p) => p.estimate?.level === "preview")
          ? "the preview while things change; the settled figures follow at once"
          : "settled: sampled layers are laid out path by path and driven with look-ahead"}
        ; the range holds the printer’s own pace.
      </p>
    </div>
  );
}

const TABS = [
  ["hours", "Where the hours go"],
  ["side", "Side down"],
  ["material", "Material"],
  ["fill", "Walls or infill"],
  ["own", "Its own process"],
] as const;

/** All about one piece. */
function PieceRoom({ state, act, piece: p }: SheetProps & { piece: PieceOut }) {
  const process = p.process;
  const effects = useEffects(state, p.part);
  const cut = state.view.pieces.some((q) => q.part === p.part && q.name !== p.name);
  const [alone, setAlone] = useState(p.printed_as === p.name);
  const whose = cut && alone ? p.name : p.part;
  const own = (change: Partial<Process>, said: string) => {
    const edit: Edit = { do: "print-part", part: whose, process: { ...process, ...change } };
    void act.edit([edit], said);
  };
  const of = cut && (
    <Choice
      label="For"
      value={alone ? "alone" : "all"}
      options={[
        { value: "all", label: `all pieces of the ${p.part}` },
        {
          value: "alone",
          label: `the ${p.name} alone`,
          hint: "another filament or colour, joined as the rest is",
        },
      ]}
      onPick={(v) => setAlone(v === "alone")}
    />
  );
  return (
    <section aria-label={`The ${p.name}`} className="mt-4 rounded-[4px] border border-ink/20 bg-paper/60 p-4">
      <Tabs.Root defaultValue="hours">
        <Tabs.List aria-label={`About the ${p.name}`} className="mb-3 flex gap-1 border-b border-rule">
          {TABS.map(([key, label]) => (
            <Tabs.Trigger
              key={key}
              value={key}
              className="cursor-pointer border-b-2 border-transparent px-2.5 pb-1 text-soft hover:text-ink data-[state=active]:border-plum data-[state=active]:font-medium data-[state=active]:text-ink"
            >
              {label}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="hours">
          <LayerWalk design={state.id} version={state.version} piece={p.name} />
          <RealHours printer={state.view.printer} piece={p} design={state.id} />
        </Tabs.Content>
        <Tabs.Content value="side">
          <Sides state={state} act={act} part={cut ? p.name : p.part} />
        </Tabs.Content>
        <Tabs.Content value="material">
          {of}
          <Materials
            state={state}
            part={p.part}
            process={process}
            onPick={(kind) => {
              if (p.own_process || (cut && alone)) own({ filament: kind }, `${whose} in ${kind}`);
              else
                void act.edit([{ do: "set", path: "process.filament", value: kind }], `print it in ${kind}`);
            }}
          />
        </Tabs.Content>
        <Tabs.Content value="fill">
          <TradeCurve state={state} part={p.part} />
        </Tabs.Content>
        <Tabs.Content value="own">
          {of}
          <ProcessFields
            process={process}
            printer={state.view.printer}
            held={p.held}
            effects={effects}
            onSet={(field, value, said) => {
              const [head, speed] = field.split(".");
              const change = speed ? { speeds: { ...process.speeds, [speed]: value } } : { [head!]: value };
              own(change, `${whose}: ${said}`);
            }}
          />
          <div className="mt-3 flex items-baseline gap-3">
            {p.own_process ? (
              <Button
                onClick={() =>
                  void act.edit(
                    [{ do: "print-part", part: p.printed_as, process: null }],
                    `print the ${p.printed_as} like the rest`,
                  )
                }
              >
                Print it like the rest
              </Button>
            ) : (
              <p className="text-soft">A change here gives the {whose} a process of its own.</p>
            )}
          </div>
        </Tabs.Content>
      </Tabs.Root>
    </section>
  );
}
