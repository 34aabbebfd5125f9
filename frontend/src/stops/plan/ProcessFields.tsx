import { useState } from "react";

import type { Process } from "../../api/schema";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";
import { FILAMENTS } from "./parts";

const KINDS = (["lines", "grid", "triangles", "honeycomb"] as const).map((k) => ({ value: k, label: k }));

type Field = keyof Process;

/** Heights at which the filament is changed, for colour: a list of millimetres. */
function Changes({ at, onSet }: { at: readonly number[]; onSet: (v: number[]) => void }) {
  const [text, setText] = useState<string | null>(null);
  const done = () => {
    if (text === null) return;
    const heights = text
      .split(/[\s,;]+/)
      .map(Number)
      .filter((v) => Number.isFinite(v) && v > 0);
    setText(null);
    onSet([...new Set(heights)].sort((a, b) => a - b));
  };
  return (
    <label className="flex items-baseline gap-1.5 text-soft">
      Change filament at
      <input
        value={text ?? at.join(", ")}
        placeholder="never"
        onChange={(e) => {
          setText(e.target.value);
        }}
        onBlur={done}
        onKeyDown={(e) => {
          if (e.key === "Enter") done();
          e.stopPropagation();
        }}
        className="num w-[6.5rem] rounded-[3px] border border-rule bg-leaf px-1.5 py-0.5 text-ink"
      />
      mm
    </label>
  );
}

/** The fields of a process; each change is told by name and value. */
export function ProcessFields({
  process: p,
  onSet,
}: {
  process: Required<Process>;
  onSet: (field: Field, value: string | number | boolean | number[], said: string) => void;
}) {
  const tick = (field: "brim_inside" | "supports", label: string) => (
    <label className="flex items-center gap-1.5 text-soft">
      <input
        type="checkbox"
        className="accent-(--plum)"
        checked={p[field]}
        onChange={(e) => {
          onSet(field, e.target.checked, e.target.checked ? label : `no ${label}`);
        }}
      />
      {label}
    </label>
  );
  const count = (field: "perimeters" | "top_layers" | "bottom_layers", label: string, min: number) => (
    <NumberField
      label={label}
      inRow
      narrow
      unit=""
      value={p[field]}
      min={min}
      onCommit={(v) => {
        onSet(field, Math.round(v), `${Math.round(v)} ${label.toLowerCase()}`);
      }}
    />
  );
  return (
    <div className="space-y-1.5">
      <Choice
        label="Filament"
        value={p.filament}
        options={FILAMENTS}
        onPick={(v) => {
          onSet("filament", v, `print it in ${v}`);
        }}
      />
      <Choice
        label="Infill"
        value={p.infill_kind}
        options={KINDS}
        onPick={(v) => {
          onSet("infill_kind", v, `infill of ${v}`);
        }}
      />
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1.5">
        <NumberField
          label="Layer"
          inRow
          narrow
          value={p.layer_mm}
          step={0.04}
          min={0.05}
          onCommit={(v) => {
            onSet("layer_mm", v, `layers of ${v} mm`);
          }}
        />
        {count("perimeters", "Perimeters", 1)}
        {count("top_layers", "Top", 0)}
        {count("bottom_layers", "Bottom", 0)}
        <NumberField
          label="Infill"
          inRow
          narrow
          unit="%"
          value={p.infill * 100}
          step={5}
          min={0}
          onCommit={(v) => {
            onSet("infill", Math.min(100, v) / 100, `infill ${v} %`);
          }}
        />
        <NumberField
          label="Brim"
          inRow
          narrow
          value={p.brim_mm}
          min={0}
          onCommit={(v) => {
            onSet("brim_mm", v, `brim of ${v} mm`);
          }}
        />
        {tick("brim_inside", "brim inside instead")}
        {tick("supports", "supports")}
        <Changes
          at={p.changes_at_mm}
          onSet={(v) => {
            onSet(
              "changes_at_mm",
              v,
              v.length ? `change filament at ${v.join(", ")} mm` : "no change of filament",
            );
          }}
        />
      </div>
    </div>
  );
}
