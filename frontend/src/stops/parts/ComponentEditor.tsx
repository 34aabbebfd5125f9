import type { Component, ErrorBody, PortKind } from "../../api/schema";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Pick } from "../../ui/Pick";
import { HAND, Place, Rows } from "./ComponentRows";
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
  ["rides", "rides on another component"],
  ["panel", "sits in or on a wall"],
] as const;
const cell = "rounded-[3px] border border-rule bg-leaf px-1 py-0.5 min-w-0";

/** A new component with nothing but a body, to be drawn by its numbers. */
export function blankComponent(): Component {
  return {
    key: `own-${crypto.randomUUID().slice(0, 8)}`,
    label: "New component",
    family: "own component",
    mounting: "posts",
    datum: "inner",
    pivot: [25, 15],
    panel_hole_mm: null,
    solids: [
      {
        name: "body",
        role: "body",
        lo: [0, 0, 0],
        hi: [50, 30, 10],
        round: false,
        corners: [],
        sure_mm: null,
        ...HAND,
      },
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

/** An own component under the pen: everything it is made of. Nothing is kept until it is put into the library. */
export function ComponentEditor({
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

      <Rows
        title="Solids"
        items={d.solids}
        least={1}
        add="Add a body"
        fresh={() => {
          const box = { lo: [0, 0, 0], hi: [10, 10, 10], round: false, sure_mm: null };
          return { name: `body ${d.solids.length + 1}`, role: "body", ...box, ...HAND } as Solid;
        }}
        onSet={(solids) => {
          set({ solids });
        }}
      >
        {(s, i, change, away) => (
          <>
            <span className="flex gap-1">
              <input
                aria-label={`Name of solid ${i + 1}`}
                value={s.name}
                className={`${cell} flex-1`}
                onChange={(e) => {
                  change({ name: e.target.value });
                }}
              />
              <Pick
                label={`${s.name} is a`}
                value={s.role}
                options={ROLES}
                onPick={(role) => {
                  change({ role });
                }}
              />
              {away(s.name)}
            </span>
            {(["lo", "hi"] as const).map((end) => (
              <span key={end} className="mt-1 flex items-baseline gap-1">
                <span className="w-8 text-soft">{end === "lo" ? "from" : "to"}</span>
                <Place
                  label={`${s.name} ${end === "lo" ? "from" : "to"}`}
                  at={s[end]}
                  onSet={(at) => {
                    change({ [end]: at });
                  }}
                />
              </span>
            ))}
          </>
        )}
      </Rows>
      <Rows
        title="Holes"
        items={mounts}
        add="Add a hole"
        fresh={() => {
          const free = [..."ABCDEFGHIJKLMNOPQRSTUVWXYZ"].find((l) => mounts.every((m) => m.name !== l));
          const hole = {
            at: [5, 5],
            thread: "M3",
            hole_mm: 3.2,
            side: "bottom",
            height_mm: 0,
            depth_limit_mm: null,
          };
          return { name: free ?? `H${mounts.length}`, ...hole, sure_mm: null, ...HAND } as Mount;
        }}
        onSet={(all) => {
          set({ mounts: all });
        }}
      >
        {(m, _, change, away) => (
          <span className="flex items-baseline gap-1">
            <span className="w-5">{m.name}</span>
            <Place
              label={`Hole ${m.name}`}
              at={m.at}
              onSet={(at) => {
                change({ at });
              }}
            />
            <Pick
              label={`Thread of hole ${m.name}`}
              value={m.thread}
              options={THREADS}
              onPick={(thread) => {
                change({ thread });
              }}
            />
            {away(`hole ${m.name}`)}
          </span>
        )}
      </Rows>
      <Rows
        title="Ports and cable ends"
        items={ports}
        add="Add a port"
        fresh={() => {
          const kind = kinds.find((k) => k.kind === "usb-c")?.kind ?? kinds[0]?.kind ?? "usb-c";
          const one = { name: `port-${ports.length + 1}`, kind, centre: [0, 10, 3], facing: "-x" };
          return { ...one, sure_mm: null, ...HAND } as Port;
        }}
        onSet={(all) => {
          set({ ports: all });
        }}
      >
        {(p, i, change, away) => (
          <>
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
                  if (name) change({ name });
                }}
              />
              <Pick
                label={`Kind of port ${p.name}`}
                value={p.kind}
                options={kinds.map((k) => [k.kind, k.label] as const)}
                className="flex-1"
                onPick={(kind) => {
                  change({ kind });
                }}
              />
              {away(`port ${p.name}`)}
            </span>
            <span className="mt-1 flex items-baseline gap-1">
              <Place
                label={`Port ${p.name}`}
                at={p.centre}
                onSet={(centre) => {
                  change({ centre: centre });
                }}
              />
              <Pick
                label={`Port ${p.name} looks to`}
                value={p.facing}
                options={FACINGS}
                onPick={(facing) => {
                  change({ facing });
                }}
              />
            </span>
          </>
        )}
      </Rows>
      <Rows
        title="Watts it takes"
        items={power}
        add="Add watts"
        fresh={() => ({ rail: "5 V", idle_w: 1, typical_w: 3, peak_w: 5, plug: "usb-c", ...HAND }) as Draw}
        onSet={(all) => {
          set({ power: all });
        }}
      >
        {(w, i, change, away) => (
          <>
            <span className="flex items-baseline gap-1">
              <Pick
                label={`Rail of draw ${i + 1}`}
                value={w.rail}
                options={RAILS}
                onPick={(rail) => {
                  change({ rail });
                }}
              />
              <Pick
                label={`Plug of draw ${i + 1}`}
                value={w.plug}
                options={[...new Set([w.plug, ...PLUGS])]}
                className="flex-1"
                onPick={(plug) => {
                  change({ plug });
                }}
              />
              {away(`draw ${i + 1}`)}
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
                    change(next);
                  }}
                />
              ))}
              <span className="text-soft">W idle, typical, peak</span>
            </span>
          </>
        )}
      </Rows>

      {wrong && (
        <p role="alert" className="mt-3 text-vermilion">
          {wrong.field}: {wrong.message}. {wrong.do}
        </p>
      )}
      <div className="mt-4 flex gap-2 border-t border-rule pt-3">
        <Button kind="main" onClick={onKeep}>
          Put it into the library
        </Button>
        <Button onClick={onLeave}>Leave it as it was</Button>
      </div>
    </section>
  );
}
