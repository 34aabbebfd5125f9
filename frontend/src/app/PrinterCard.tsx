import { useState } from "react";

import type { Learned, OwnAllowance, Pace, Printer, Usual } from "../api/schema";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";
import { NumberList } from "../ui/NumberList";
import { Tick } from "../ui/Tick";
import { Allowances } from "./Allowances";
import { PrinterDiary } from "./PrinterDiary";
import { SimulatedPrinter } from "./SimulatedPrinter";
import type { Put } from "../desk/workshop";

/** A printer: what it can do, how its last parts came out, its pace and what its hours teach. */
export function PrinterCard({
  printer: p,
  pace,
  learned,
  usedBy,
  onCopy,
  allowances,
  filaments,
  put,
}: {
  printer: Printer;
  /** Names of the designs that are printed on it. */
  usedBy: readonly string[];
  onCopy: () => void;
  /** What the tables say of each kind of feature. */
  allowances: readonly Usual[];
  filaments: readonly OwnAllowance["filament"][];
  pace: Pace;
  learned: Learned;
  put: Put;
}) {
  const change = (by: (now: Printer) => Partial<Printer>) => {
    put((w) =>
      w.printers
        .filter((x) => x.key === p.key)
        .map((x) => ({ do: "put-printer", printer: { ...x, ...by(x) } })),
    );
  };
  const set = (to: Partial<Printer>) => {
    change(() => to);
  };
  const num = (
    field:
      | "nozzle_mm"
      | "margin_mm"
      | "speed_mm_s"
      | "accel_mm_s2"
      | "corner_mm_s"
      | "flow_mm3_s"
      | "slots"
      | "nozzle_max_c"
      | "bed_max_c"
      | "chamber_c",
    label: string,
    unit: string,
  ) => (
    <NumberField
      label={label}
      unit={unit}
      value={p[field]}
      min={0}
      onCommit={(v) => {
        set({ [field]: field === "slots" ? Math.round(v) : v });
      }}
    />
  );
  const health = p.health as { skew_mm_per_100: number; flow_share: number; checked: string };
  return (
    <li className="rounded-[4px] border border-rule p-4">
      <div className="mb-2 flex items-baseline gap-3">
        <h3 className="sr-only">{p.name}</h3>
        <Name
          name={p.name}
          onSet={(name) => {
            set({ name });
          }}
        />
        <span className="flex-1" />
        <Button kind="quiet" onClick={onCopy}>
          Copy
        </Button>
        <Button
          kind="quiet"
          disabled={usedBy.length > 0}
          title={usedBy.length ? `Printed on it: ${usedBy.join(", ")}` : undefined}
          onClick={() => {
            put([{ do: "remove-printer", key: p.key }]);
          }}
        >
          Take away
        </Button>
      </div>
      <p className="mb-2 text-[12.5px] text-soft">
        {usedBy.length ? `Printed on it: ${usedBy.join(", ")}.` : "No design is printed on it."}
      </p>
      <Room printer={p} />
      <div className="space-y-1">
        {(["bed, wide", "bed, deep", "height"] as const).map((label, i) => (
          <NumberField
            key={label}
            label={label}
            value={p.bed_mm[i]!}
            min={1}
            onCommit={(v) => {
              change((now) => {
                const bed_mm: Printer["bed_mm"] = [...now.bed_mm];
                bed_mm[i] = v;
                return { bed_mm };
              });
            }}
          />
        ))}
        {num("nozzle_mm", "nozzle", "mm")}
        <NumberList
          label="spare nozzles"
          labelled="w-[5.6rem] shrink-0 text-soft"
          values={p.spare_nozzles_mm}
          placeholder="none"
          wide="w-[4.6rem] text-right"
          onCommit={(v) => {
            set({ spare_nozzles_mm: v });
          }}
        />
        {num("margin_mm", "worn edge", "mm")}
        {num("speed_mm_s", "speed", "mm/s")}
        {num("accel_mm_s2", "acceleration", "mm/s²")}
        {num("corner_mm_s", "at corners", "mm/s")}
        {num("flow_mm3_s", "hot end", "mm³/s")}
        {num("nozzle_max_c", "nozzle up to", "°C")}
        {num("bed_max_c", "bed up to", "°C")}
        {num("chamber_c", "chamber", "°C")}
        {num("slots", "filaments", "at once")}
        <div className="flex gap-4 pt-1">
          {(
            [
              ["enclosed", "enclosed"],
              ["hardened", "hardened nozzle"],
            ] as const
          ).map(([field, label]) => (
            <label key={field} className="flex items-center gap-1.5 text-soft">
              <Tick
                checked={p[field]}
                onTick={(on) => {
                  set({ [field]: on });
                }}
              />
              {label}
            </label>
          ))}
        </div>
      </div>
      <h4 className="mt-3 mb-1 font-head font-semibold">How its last parts came out</h4>
      <div className="space-y-1">
        <NumberField
          label="skew"
          unit="mm over 100"
          value={health.skew_mm_per_100}
          step={0.1}
          min={0}
          onCommit={(v) => {
            change((now) => ({ health: { ...now.health, skew_mm_per_100: v } }));
          }}
        />
        <NumberField
          label="flow"
          unit="% of asked"
          value={health.flow_share * 100}
          min={1}
          onCommit={(v) => {
            change((now) => ({ health: { ...now.health, flow_share: v / 100 } }));
          }}
        />
      </div>
      <Allowances printer={p} usual={allowances} filaments={filaments} change={change} />
      <PrinterDiary printer={p} pace={pace} learned={learned} set={set} put={put} />
      <SimulatedPrinter printer={p} set={set} />
    </li>
  );
}

function Name({ name, onSet }: { name: string; onSet: (name: string) => void }) {
  const [text, setText] = useState<string | null>(null);
  return (
    <input
      aria-label={`Name of ${name}`}
      value={text ?? name}
      maxLength={60}
      onChange={(e) => {
        setText(e.target.value);
      }}
      onBlur={() => {
        const next = text?.trim();
        setText(null);
        if (next && next !== name) onSet(next);
      }}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
      }}
      className="w-[9.5rem] rounded-[3px] border border-transparent bg-transparent px-1 font-head text-[15px] font-semibold hover:border-rule"
    />
  );
}

/** What a printer can hold, bed and front, all printers to one scale; the worn edge dashed. */
function Room({ printer: p }: { printer: Printer }) {
  const [x, y, z] = p.bed_mm;
  const k = 0.3;
  const m = p.margin_mm;
  return (
    <svg
      viewBox="0 0 330 108"
      className="mb-2 w-full"
      role="img"
      aria-label={`Bed ${x} by ${y}, ${z} high${p.enclosed ? ", enclosed" : ""}`}
    >
      <g fill="var(--paper)" stroke="var(--ink)">
        <rect x="1" y={106 - y * k} width={x * k} height={y * k} />
        <rect
          x="121"
          y={106 - z * k}
          width={x * k}
          height={z * k}
          fillOpacity={p.enclosed ? 1 : 0}
          strokeDasharray={p.enclosed ? undefined : "5 3"}
        />
      </g>
      <rect
        x={1 + m * k}
        y={106 - y * k + m * k}
        width={(x - 2 * m) * k}
        height={(y - 2 * m) * k}
        fill="none"
        stroke="var(--slate)"
        strokeDasharray="3 2"
      />
      <path d={`M${121 + (x * k) / 2} ${106 - z * k}v10l-3 5h6l-3 -5`} stroke="var(--plum)" fill="none" />
      <text x={121 + (x * k) / 2 + 8} y={106 - z * k + 15} fontSize="9.5" fill="var(--soft)">
        {p.nozzle_mm}
      </text>
      <text x="232" y="100" fontSize="9.5" fill="var(--soft)">
        bed · front
      </text>
    </svg>
  );
}
