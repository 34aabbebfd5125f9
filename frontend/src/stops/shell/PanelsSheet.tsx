import { useState } from "react";

import type { Panel } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { brief } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";

const FRESH = {
  size_mm: [120, 80] satisfies [number, number],
  thick_mm: 3,
  corner_mm: 3,
  vent_d_mm: 0,
  vent_pitch_mm: 8,
  margin_mm: 12,
  window_mm: null,
};

/** Loose panels: each drawn to one scale, with its numbers; joined by hand, printed one by one. */
export function PanelsSheet({ state, act }: SheetProps) {
  const panels = state.design.panels;
  const [name, setName] = useState("");
  const widest = Math.max(...panels.map((p) => p.size_mm[0]), 1);
  const change = (id: string, by: (p: Panel) => Partial<Panel>, said: string) =>
    void act.edit(
      (now) =>
        now.design.panels
          .filter((p) => p.id === id)
          .map((p) => ({ do: "put-panel", panel: { ...p, ...by(p) } })),
      said,
    );
  return (
    <div className="h-full overflow-y-auto px-7 py-4" tabIndex={0} role="region" aria-label="Panels">
      <p className="mb-3 max-w-2xl text-soft">
        This design is a set of loose panels, joined by hand. Each is printed lying; the Print plan says what
        they take.
      </p>
      <ul className="divide-y divide-rule border-y border-rule">
        {panels.map((p) => (
          <li key={p.id} className="grid grid-cols-[190px_minmax(0,1fr)_auto] items-center gap-x-6 py-3">
            <Drawing panel={p} k={180 / widest} />
            <div>
              <h2 className="mb-1.5 text-[14.5px]">{p.name}</h2>
              <div className="grid grid-cols-2 gap-x-6 gap-y-1">
                {(
                  [
                    [
                      "width",
                      p.size_mm[0],
                      (v: number, q: Panel): Partial<Panel> => ({ size_mm: [v, q.size_mm[1]] }),
                    ],
                    [
                      "depth",
                      p.size_mm[1],
                      (v: number, q: Panel): Partial<Panel> => ({ size_mm: [q.size_mm[0], v] }),
                    ],
                    ["thick", p.thick_mm, (v: number) => ({ thick_mm: v })],
                    ["corners", p.corner_mm, (v: number) => ({ corner_mm: v })],
                    ["vents", p.vent_d_mm, (v: number) => ({ vent_d_mm: v })],
                    ["vent pitch", p.vent_pitch_mm, (v: number) => ({ vent_pitch_mm: v })],
                    ["margin", p.margin_mm, (v: number) => ({ margin_mm: v })],
                  ] as const
                ).map(([label, value, made]) => (
                  <NumberField
                    tried
                    key={label}
                    label={label}
                    value={value}
                    min={0}
                    onCommit={(v) => {
                      change(p.id, (q) => made(v, q), `${p.name}: ${label} ${brief(v, 2)}`);
                    }}
                  />
                ))}
              </div>
            </div>
            <Button
              kind="quiet"
              onClick={() => void act.edit([{ do: "remove-panel", id: p.id }], `take ${p.name} out`)}
            >
              Take it out
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="mt-4 flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          const label = name.trim() || "Panel";
          const base =
            label
              .toLowerCase()
              .replace(/[^a-z0-9]+/g, "-")
              .slice(0, 30) || "panel";
          let id = base;
          for (let n = 2; panels.some((p) => p.id === id); n++) id = `${base}-${n}`;
          void act.edit([{ do: "put-panel", panel: { ...FRESH, id, name: label } }], `add ${label}`);
          setName("");
        }}
      >
        <input
          aria-label="Name of a new panel"
          placeholder="name"
          value={name}
          maxLength={60}
          onChange={(e) => {
            setName(e.target.value);
          }}
          className="rounded-[3px] border border-rule bg-leaf px-2 py-1"
        />
        <Button type="submit">Add a panel</Button>
      </form>
    </div>
  );
}

function Drawing({ panel: p, k }: { panel: Panel; k: number }) {
  const [w, d] = p.size_mm;
  return (
    <svg
      width={w * k + 2}
      height={d * k + 2}
      viewBox={`${-1 / k} ${-1 / k} ${w + 2 / k} ${d + 2 / k}`}
      role="img"
      aria-label={`${p.name}, ${brief(w, 1)} by ${brief(d, 1)}, ${brief(p.thick_mm, 1)} thick`}
    >
      <rect
        width={w}
        height={d}
        rx={p.corner_mm}
        fill="var(--paper)"
        stroke="var(--ink)"
        strokeWidth={1 / k}
      />
      {p.vent_d_mm > 0 && (
        <rect
          x={p.margin_mm}
          y={p.margin_mm}
          width={Math.max(0, w - 2 * p.margin_mm)}
          height={Math.max(0, d - 2 * p.margin_mm)}
          fill="none"
          stroke="var(--slate)"
          strokeDasharray={`${p.vent_d_mm * 0.6} ${p.vent_pitch_mm - p.vent_d_mm * 0.6}`}
          strokeWidth={p.vent_d_mm * 0.5}
        />
      )}
      {p.window_mm && (
        <rect
          x={p.window_mm[0]}
          y={d - p.window_mm[1] - p.window_mm[3]}
          width={p.window_mm[2]}
          height={p.window_mm[3]}
          fill="var(--leaf)"
          stroke="var(--ink)"
          strokeWidth={1 / k}
        />
      )}
    </svg>
  );
}
