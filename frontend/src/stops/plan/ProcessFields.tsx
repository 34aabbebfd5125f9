import { Collapsible } from "radix-ui";
import { type ReactNode } from "react";

import type { SettingEffect, Printer, Process, Speeds } from "../../api/schema";
import { Choice } from "../../ui/Choice";
import { brief, duration, show } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { NumberList } from "../../ui/NumberList";
import { Tick } from "../../ui/Tick";
import { useWorkshop } from "../../desk/useWorkshop";

const KINDS = (["lines", "grid", "triangles", "honeycomb"] as const).map((k) => ({ value: k, label: k }));

type Field = keyof Process | `speeds.${keyof Speeds}`;

const SPEEDS = [
  ["outer_mm_s", "Outer perimeter"],
  ["inner_mm_s", "Inner perimeters"],
  ["solid_mm_s", "Solid layers"],
  ["infill_mm_s", "Infill"],
  ["bridge_mm_s", "Bridges"],
  ["support_mm_s", "Support"],
  ["first_mm_s", "First layer"],
  ["travel_mm_s", "Travel"],
] as const;

/** Speeds asked for by feature, and what the caps of filament and printer leave of them. */
function SpeedFields({
  asked,
  held,
  onSet,
}: {
  asked: Speeds;
  held: Speeds | null | undefined;
  onSet: (field: keyof Speeds, value: number, said: string) => void;
}) {
  return (
    <Collapsible.Root>
      <Collapsible.Trigger className="cursor-pointer border-b border-plum/50 text-soft hover:text-plum">
        Speeds by feature
      </Collapsible.Trigger>
      <Collapsible.Content className="mt-1.5 space-y-1">
        {SPEEDS.map(([field, label]) => (
          <div key={field}>
            <NumberField
              tried
              label={label}
              narrow
              unit="mm/s"
              value={asked[field]}
              step={5}
              min={1}
              onCommit={(v) => {
                onSet(field, v, `${label.toLowerCase()} at ${v} mm/s`);
              }}
            />
            {held && held[field] < asked[field] - 0.5 && (
              <span className="block text-[11.5px] text-saffron">held at {brief(held[field], 0)} mm/s</span>
            )}
          </div>
        ))}
      </Collapsible.Content>
    </Collapsible.Root>
  );
}

/** What a step of a setting would do, beside it. */
function EffectOf({
  field,
  effects,
}: {
  field: SettingEffect["field"];
  effects: readonly SettingEffect[] | undefined;
}) {
  const e = effects?.find((x) => x.field === field);
  if (!e) return null;
  const m = Math.round(Math.abs(e.time_s) / 60);
  const minutes = m > 0 && `${e.time_s > 0 ? "+" : "−"}${m < 60 ? `${m} min` : duration(m * 60)}`;
  const grams = Math.abs(e.mass_g) >= 0.5 && `${e.mass_g > 0 ? "+" : "−"}${show(Math.abs(e.mass_g), 0)} g`;
  const stiff = Math.abs(e.stiffness - 1) >= 0.005 && `${show(e.stiffness, 2)} × as stiff`;
  const does = [minutes, grams, stiff].filter(Boolean).join(", ");
  return (
    <p className="text-[11.5px] leading-4 text-soft">
      {e.step}: {does || "hardly any change"}
    </p>
  );
}

function Group({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div role="group" aria-label={name} className="space-y-1.5">
      <h2 className="border-b border-rule pb-0.5 font-head text-[13px] font-semibold">{name}</h2>
      {children}
    </div>
  );
}

/** The fields of a process by what they do, with what a step of each changes; each change is told by name and value. */
export function ProcessFields({
  process: p,
  printer,
  held,
  effects,
  onSet,
}: {
  process: Process;
  printer: Printer | undefined;
  held?: Speeds | null | undefined;
  effects?: readonly SettingEffect[] | undefined;
  onSet: (field: Field, value: string | number | boolean | number[] | null, said: string) => void;
}) {
  const shop = useWorkshop().data;
  const own = (shop?.workshop.filaments ?? []).filter((o) => o.key && o.kind === p.filament);
  const tick = (field: "brim_inside" | "supports" | "lines_joined", label: string) => (
    <label className="flex items-center gap-1.5 text-soft">
      <Tick
        tried
        checked={p[field]}
        onTick={(on) => {
          onSet(field, on, on ? label : `no ${label}`);
        }}
      />
      {label}
    </label>
  );
  const count = (field: "perimeters" | "top_layers" | "bottom_layers", label: string, min: number) => (
    <div>
      <NumberField
        tried
        label={label}
        unit=""
        narrow
        value={p[field]}
        min={min}
        onCommit={(v) => {
          onSet(field, Math.round(v), `${Math.round(v)} ${label.toLowerCase()}`);
        }}
      />
      <EffectOf field={field} effects={effects} />
    </div>
  );
  return (
    <div className="space-y-1.5">
      <Choice
        tried
        label="Filament"
        value={p.filament}
        options={(shop?.filaments ?? [p.filament]).map((f) => ({ value: f, label: f }))}
        onPick={(v) => {
          onSet("filament", v, `print it in ${v}`);
        }}
      />
      {own.length > 0 && (
        <Choice
          tried
          label="of which"
          value={own.find((o) => o.key === p.own_filament)?.key ?? ""}
          options={[
            { value: "", label: `plain ${p.filament}` },
            ...own.map((o) => ({ value: o.key!, label: o.name! })),
          ]}
          onPick={(v) => {
            const name = own.find((o) => o.key === v)?.name ?? `plain ${p.filament}`;
            onSet("own_filament", v || null, `print it in ${name}`);
          }}
        />
      )}
      {printer && (
        <Choice
          tried
          label="Nozzle"
          value={String(p.nozzle_mm ?? printer.nozzle_mm)}
          options={nozzles(printer, p.nozzle_mm).map((n) => ({
            value: String(n),
            label: n === printer.nozzle_mm ? `${n} in the printer` : `${n} to be put in`,
          }))}
          onPick={(v) => {
            onSet("nozzle_mm", Number(v) === printer.nozzle_mm ? null : Number(v), `a ${v} nozzle`);
          }}
        />
      )}
      <Choice
        tried
        label="Infill lines"
        value={p.infill_kind}
        options={KINDS}
        onPick={(v) => {
          onSet("infill_kind", v, `infill of ${v}`);
        }}
      />
      <div className="grid grid-cols-3 gap-x-6 gap-y-3 pt-2.5 max-[1100px]:grid-cols-2">
        <Group name="Strength">
          {count("perimeters", "Perimeters", 1)}
          {count("top_layers", "Top layers", 0)}
          {count("bottom_layers", "Bottom layers", 0)}
          <div>
            <NumberField
              tried
              label="Infill"
              narrow
              unit="%"
              value={p.infill * 100}
              step={5}
              min={0}
              onCommit={(v) => {
                onSet("infill", Math.min(100, v) / 100, `infill ${v} %`);
              }}
            />
            <EffectOf field="infill" effects={effects} />
          </div>
        </Group>
        <Group name="Looks and hours">
          <div>
            <NumberField
              tried
              label="Layer"
              narrow
              value={p.layer_mm}
              step={0.04}
              min={0.05}
              onCommit={(v) => {
                onSet("layer_mm", v, `layers of ${v} mm`);
              }}
            />
            <EffectOf field="layer_mm" effects={effects} />
          </div>
          <div>
            {tick("lines_joined", "fill lines joined at the wall")}
            <EffectOf field="lines_joined" effects={effects} />
          </div>
          <NumberList
            label="Change filament at"
            values={p.changes_at_mm}
            placeholder="never"
            wide="w-[5.2rem]"
            onCommit={(v) => {
              onSet(
                "changes_at_mm",
                v,
                v.length ? `change filament at ${v.join(", ")} mm` : "no change of filament",
              );
            }}
          />
          <SpeedFields
            asked={p.speeds}
            held={held}
            onSet={(field, value, said) => {
              onSet(`speeds.${field}`, value, said);
            }}
          />
        </Group>
        <Group name="Bed and support">
          <div>
            <NumberField
              tried
              label="Brim"
              narrow
              value={p.brim_mm}
              min={0}
              onCommit={(v) => {
                onSet("brim_mm", v, `brim of ${v} mm`);
              }}
            />
            <EffectOf field="brim_mm" effects={effects} />
          </div>
          {tick("brim_inside", "brim inside instead")}
          <div>
            {tick("supports", "supports")}
            <EffectOf field="supports" effects={effects} />
          </div>
        </Group>
      </div>
    </div>
  );
}

function nozzles(printer: Printer, own: number | null) {
  return [...new Set([printer.nozzle_mm, ...(printer.spare_nozzles_mm ?? []), ...(own ? [own] : [])])].sort(
    (a, b) => a - b,
  );
}
