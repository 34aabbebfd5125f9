import type { Component, ErrorBody, PortKind } from "../../api/schema";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Pick } from "../../ui/Pick";
import { THREADS } from "./threads";

type Solid = Component["solids"][number];
type Mount = NonNullable<Component["mounts"]>[number];
type Port = NonNullable<Component["ports"]>[number];
type Draw = NonNullable<Component["power"]>[number];

const FACINGS = ["+x", "-x", "+y", "-y", "+z", "-z"] as const;
const ROLES = ["board", "body", "connector", "pins", "plug", "keepout"] as const;
const RAILS = ["3.3 V", "5 V", "12 V", "20 V"] as const;
const PLUGS = [
  "usb-c",
  "usb-a",
  "dc-barrel",
  "header-5v",
  "sata-power",
  "fan",
  "atx-24",
  "eps-8",
  "pcie-8",
  "slot",
  "m2-slot",
  "led-12v",
  "screw-terminal",
] as const;
const MOUNTING = [
  ["posts", "stands on posts, screwed from above"],
  ["through", "lies on the floor, screwed from below"],
  ["rides", "rides on another part"],
  ["panel", "sits in or on a wall"],
] as const;
const HAND = { source: "changed by hand", mark: "measured" } as const;
const cell = "rounded-[3px] border border-rule bg-leaf px-1 py-0.5 min-w-0";

/** A new part with nothing but a body, to be drawn by its numbers. */
export function blankPart(): Component {
  return {
    key: `own-${crypto.randomUUID().slice(0, 8)}`,
    label: "New part",
    family: "own part",
    mounting: "posts",
    datum: "inner",
    pivot: [25, 15],
    panel_hole_mm: null,
    solids: [
      { name: "body", role: "body", lo: [0, 0, 0], hi: [50, 30, 10], round: false, sure_mm: null, ...HAND },
    ],
    mounts: [],
    ports: [],
    air: null,
    headers: [],
    power: [],
    supply: null,
    zones: [],
    pattern: null,
    shape: null,
    heat_w: 0,
    mass_g: 0,
    ...HAND,
  } as Component;
}

/** An own part under the pen: everything it is made of. Nothing is kept until it is put into the drawer. */
export function PartEditor({
  draft: d,
  kinds,
  wrong,
  onChange,
  onKeep,
  onLeave,
}: {
  draft: Component;
  kinds: readonly PortKind[];
  wrong: ErrorBody | null;
  onChange: (c: Component) => void;
  onKeep: () => void;
  onLeave: () => void;
}) {
  const set = (change: Partial<Component>) => {
    onChange({ ...d, ...change });
  };
  const mounts = d.mounts ?? [];
  const ports = d.ports ?? [];
  const power = d.power ?? [];
  const solid = (i: number, change: Partial<Solid>) => {
    set({ solids: d.solids.map((s, k) => (k === i ? ({ ...s, ...change, ...HAND } as Solid) : s)) });
  };
  const mount = (i: number, change: Partial<Mount>) => {
    set({ mounts: mounts.map((m, k) => (k === i ? ({ ...m, ...change, ...HAND } as Mount) : m)) });
  };
  const port = (i: number, change: Partial<Port>) => {
    set({ ports: ports.map((p, k) => (k === i ? ({ ...p, ...change, ...HAND } as Port) : p)) });
  };
  const draw = (i: number, change: Partial<Draw>) => {
    set({ power: power.map((w, k) => (k === i ? ({ ...w, ...change, ...HAND } as Draw) : w)) });
  };
  return (
    <section
      aria-label={`Change ${d.label}`}
      className="min-h-0 overflow-y-auto border-l border-rule p-4 text-[12.5px]"
      tabIndex={0}
    >
      <label className="block">
        <span className="text-soft">Name</span>
        <input
          value={d.label}
          maxLength={80}
          onChange={(e) => {
            set({ label: e.target.value });
          }}
          className="mt-0.5 w-full rounded-[3px] border border-rule bg-leaf px-2 py-1 text-[14px]"
        />
      </label>
      <div className="mt-2 flex gap-4">
        <NumberField
          label="Heat"
          inRow
          narrow
          unit="W"
          min={0}
          value={d.heat_w}
          onCommit={(v) => {
            set({ heat_w: v });
          }}
        />
        <NumberField
          label="Mass"
          inRow
          narrow
          unit="g"
          min={0}
          value={d.mass_g}
          onCommit={(v) => {
            set({ mass_g: v });
          }}
        />
      </div>
      <label className="mt-2 block">
        <span className="text-soft">How it is held</span>
        <select
          value={d.mounting}
          className={`${cell} mt-0.5 w-full`}
          onChange={(e) => {
            set({ mounting: e.target.value as Component["mounting"] });
          }}
        >
          {MOUNTING.map(([key, label]) => (
            <option key={key} value={key}>
              {label}
            </option>
          ))}
        </select>
      </label>

      <h3 className="mt-4 mb-1">Solids</h3>
      <ul className="space-y-2.5">
        {d.solids.map((s, i) => (
          <li key={i} className="border-l border-rule pl-2">
            <span className="flex gap-1">
              <input
                aria-label={`Name of solid ${i + 1}`}
                value={s.name}
                className={`${cell} flex-1`}
                onChange={(e) => {
                  solid(i, { name: e.target.value });
                }}
              />
              <Pick
                label={`${s.name} is a`}
                value={s.role}
                options={ROLES}
                onPick={(v) => {
                  solid(i, { role: v });
                }}
              />
              <Away
                what={s.name}
                disabled={d.solids.length < 2}
                onPress={() => {
                  set({ solids: d.solids.filter((_, k) => k !== i) });
                }}
              />
            </span>
            {(["lo", "hi"] as const).map((end) => (
              <span key={end} className="mt-1 flex items-baseline gap-1">
                <span className="w-8 text-soft">{end === "lo" ? "from" : "to"}</span>
                <Place
                  label={`${s.name} ${end === "lo" ? "from" : "to"}`}
                  at={s[end]}
                  onSet={(at) => {
                    solid(i, { [end]: at });
                  }}
                />
              </span>
            ))}
          </li>
        ))}
      </ul>
      <Button
        className="mt-2"
        onClick={() => {
          const body = {
            name: `body ${d.solids.length + 1}`,
            role: "body",
            lo: [0, 0, 0],
            hi: [10, 10, 10],
            round: false,
          };
          set({ solids: [...d.solids, { ...body, sure_mm: null, ...HAND } as Solid] });
        }}
      >
        Add a body
      </Button>

      <h3 className="mt-4 mb-1">Holes</h3>
      <ul className="space-y-1">
        {mounts.map((m, i) => (
          <li key={i} className="flex items-baseline gap-1">
            <span className="w-5">{m.name}</span>
            <Place
              label={`Hole ${m.name}`}
              at={m.at}
              onSet={(at) => {
                mount(i, { at: at as [number, number] });
              }}
            />
            <Pick
              label={`Thread of hole ${m.name}`}
              value={m.thread}
              options={THREADS}
              onPick={(v) => {
                mount(i, { thread: v });
              }}
            />
            <Away
              what={`hole ${m.name}`}
              onPress={() => {
                set({ mounts: mounts.filter((_, k) => k !== i) });
              }}
            />
          </li>
        ))}
      </ul>
      <Button
        className="mt-1"
        onClick={() => {
          const name =
            [..."ABCDEFGHIJKLMNOPQRSTUVWXYZ"].find((l) => mounts.every((m) => m.name !== l)) ??
            `H${mounts.length}`;
          const hole = {
            name,
            at: [5, 5],
            thread: "M3",
            hole_mm: 3.2,
            side: "bottom",
            height_mm: 0,
            depth_limit_mm: null,
          };
          set({ mounts: [...mounts, { ...hole, sure_mm: null, ...HAND } as Mount] });
        }}
      >
        Add a hole
      </Button>

      <h3 className="mt-4 mb-1">Ports and cable ends</h3>
      <ul className="space-y-2">
        {ports.map((p, i) => (
          <li key={i} className="border-l border-rule pl-2">
            <span className="flex items-baseline gap-1">
              <input
                aria-label={`Name of port ${i + 1}`}
                value={p.name}
                className={`${cell} w-16`}
                onChange={(e) => {
                  const name = e.target.value
                    .toLowerCase()
                    .replace(/[^a-z0-9._-]/g, "-")
                    .slice(0, 20);
                  if (name) port(i, { name });
                }}
              />
              <Pick
                label={`Kind of port ${p.name}`}
                value={p.kind}
                options={kinds.map((k) => [k.kind, k.label] as const)}
                className="flex-1"
                onPick={(v) => {
                  port(i, { kind: v });
                }}
              />
              <Away
                what={`port ${p.name}`}
                onPress={() => {
                  set({ ports: ports.filter((_, k) => k !== i) });
                }}
              />
            </span>
            <span className="mt-1 flex items-baseline gap-1">
              <Place
                label={`Port ${p.name}`}
                at={p.centre}
                onSet={(centre) => {
                  port(i, { centre: centre as [number, number, number] });
                }}
              />
              <Pick
                label={`Port ${p.name} looks to`}
                value={p.facing}
                options={FACINGS}
                onPick={(v) => {
                  port(i, { facing: v });
                }}
              />
            </span>
          </li>
        ))}
      </ul>
      <Button
        className="mt-1"
        onClick={() => {
          const kind = kinds.find((k) => k.kind === "usb-c")?.kind ?? kinds[0]?.kind ?? "usb-c";
          const one = { name: `port-${ports.length + 1}`, kind, centre: [0, 10, 3], facing: "-x" };
          set({ ports: [...ports, { ...one, sure_mm: null, ...HAND } as Port] });
        }}
      >
        Add a port
      </Button>

      <h3 className="mt-4 mb-1">Watts it takes</h3>
      <ul className="space-y-2">
        {power.map((w, i) => (
          <li key={i} className="border-l border-rule pl-2">
            <span className="flex items-baseline gap-1">
              <Pick
                label={`Rail of draw ${i + 1}`}
                value={w.rail}
                options={RAILS}
                onPick={(v) => {
                  draw(i, { rail: v });
                }}
              />
              <Pick
                label={`Plug of draw ${i + 1}`}
                value={w.plug}
                options={[...new Set([w.plug, ...PLUGS])]}
                className="flex-1"
                onPick={(v) => {
                  draw(i, { plug: v });
                }}
              />
              <Away
                what={`draw ${i + 1}`}
                onPress={() => {
                  set({ power: power.filter((_, k) => k !== i) });
                }}
              />
            </span>
            <span className="mt-1 flex items-baseline gap-1">
              {(["idle_w", "typical_w", "peak_w"] as const).map((field) => (
                <NumberField
                  key={field}
                  label={`Draw ${i + 1}, ${field.slice(0, -2)} watts`}
                  hideLabel
                  narrow
                  unit=""
                  step={0.5}
                  min={0}
                  value={w[field]}
                  onCommit={(v) => {
                    // watts rise from idle to peak; the others follow
                    const next = { ...w, [field]: v };
                    if (field === "idle_w") next.typical_w = Math.max(v, next.typical_w);
                    next.peak_w = Math.max(next.typical_w, next.peak_w, field === "peak_w" ? v : 0);
                    if (field === "peak_w") next.typical_w = Math.min(next.typical_w, v);
                    if (field === "peak_w") next.peak_w = v;
                    next.idle_w = Math.min(next.idle_w, next.typical_w);
                    draw(i, next);
                  }}
                />
              ))}
              <span className="text-soft">W idle, typical, peak</span>
            </span>
          </li>
        ))}
      </ul>
      <Button
        className="mt-1"
        onClick={() => {
          const one = { rail: "5 V", idle_w: 1, typical_w: 3, peak_w: 5, plug: "usb-c" };
          set({ power: [...power, { ...one, ...HAND } as Draw] });
        }}
      >
        Add watts
      </Button>

      {wrong && (
        <p role="alert" className="mt-3 text-vermilion">
          {wrong.field}: {wrong.said}. {wrong.do}
        </p>
      )}
      <div className="mt-4 flex gap-2 border-t border-rule pt-3">
        <Button kind="main" onClick={onKeep}>
          Put it into the drawer
        </Button>
        <Button onClick={onLeave}>Leave it as it was</Button>
      </div>
    </section>
  );
}

function Place({
  label,
  at,
  onSet,
}: {
  label: string;
  at: readonly number[];
  onSet: (at: number[]) => void;
}) {
  return (
    <>
      {at.map((v, k) => (
        <NumberField
          key={k}
          label={`${label} ${"xyz"[k]}`}
          hideLabel
          narrow
          unit=""
          step={0.1}
          value={v}
          onCommit={(x) => {
            onSet(at.map((old, n) => (n === k ? x : old)));
          }}
        />
      ))}
    </>
  );
}

function Away({ what, disabled, onPress }: { what: string; disabled?: boolean; onPress: () => void }) {
  return (
    <button
      type="button"
      aria-label={`Take ${what} away`}
      disabled={disabled}
      className="cursor-pointer px-1 text-soft hover:text-vermilion disabled:opacity-40"
      onClick={onPress}
    >
      ×
    </button>
  );
}
