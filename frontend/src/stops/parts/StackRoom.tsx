import { useState } from "react";

import type { Component, Stand, ThingOut } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Hatch } from "../../sheet/Hatch";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief, show } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { Why } from "../../ui/Why";
import { useWorkshop } from "../../desk/useWorkshop";
import { FILL } from "./extent";
import { useLibrary } from "./useLibrary";

const MADE = [
  { value: "bought", label: "bought" },
  { value: "printed", label: "printed" },
] as const;

/** Boards on boards, seen from the front: their standoffs, what is between them, how sure the heights are. */
export function StackRoom({ state, act }: SheetProps) {
  const things = state.view.things;
  const boards = things.filter(
    (t) => t.solids.some((s) => s.role === "board") && t.face === null && t.family !== "card",
  );
  const feet = boards.filter((t) => !t.stand);
  const [picked, setPicked] = useState<string | null>(null);
  const foot =
    feet.find((t) => t.id === picked) ?? feet.find((t) => boards.some((b) => b.rides_on === t.id)) ?? feet[0];
  const library = useLibrary().data;
  const glance = new Map((library?.overviews ?? []).map((o) => [o.key, o]));
  if (!foot)
    return (
      <p className="p-6 text-soft">
        There is no board on the bench yet. Take one from the library, then stack shields under it or on it
        here.
      </p>
    );
  // what has the same holes can stand on the same standoffs
  const holes = glance.get(state.design.placements.find((p) => p.id === foot.id)?.component ?? "")?.holes;
  const stackable = (library?.components ?? []).filter(
    (c) => ["shield", "board"].includes(c.family) && glance.get(c.key)?.holes === holes,
  );
  const tower: ThingOut[] = [];
  let next: ThingOut | undefined = foot;
  while (next) {
    tower.push(next);
    const id: string = next.id;
    next = boards.find((t) => t.rides_on === id && t.stand);
  }
  const top = tower[tower.length - 1]!;
  const riders = things.filter((t) => t.rides_on && tower.some((b) => b.id === t.rides_on) && !t.stand);
  const id = (stem: string) => {
    let n = 1;
    while (things.some((t) => t.id === (n > 1 ? `${stem}-${n}` : stem))) n++;
    return n > 1 ? `${stem}-${n}` : stem;
  };
  const placement = (c: Component, on: string | null) => {
    const key = id(c.family);
    return {
      id: key,
      component: c.key,
      name: c.label.slice(0, 60),
      at_mm: [0, 0, 0] as [number, number, number],
      turn: 0 as const,
      face: null,
      on,
      stand: null,
      blows: null,
      rests_on: null,
      slotted: false,
    };
  };
  const custom = (c: Component) => (glance.get(c.key)?.own ? c : null);
  const under = (c: Component) =>
    void act.edit(
      [
        {
          do: "stack-under",
          id: foot.id,
          placement: placement(c, null),
          stand: { standoff_mm: 12, made: "bought", extender_mm: 0 },
          custom: custom(c),
        },
      ],
      `${c.label} under ${foot.name}`,
    );
  const onTop = (c: Component) =>
    void act.edit(
      [
        {
          do: "stack-on",
          placement: placement(c, top.id),
          stand: { standoff_mm: 12, made: "bought", extender_mm: 0 },
          custom: custom(c),
        },
      ],
      `${c.label} on ${top.name}`,
    );
  return (
    <div className="h-full overflow-y-auto px-6 py-4" tabIndex={0} role="region" aria-label="Stacks">
      {feet.length > 1 && (
        <Choice
          label="Stack on"
          value={foot.id}
          options={feet.map((t) => ({ value: t.id, label: t.name }))}
          onPick={setPicked}
        />
      )}
      <div className="mt-2 grid grid-cols-[minmax(0,1fr)_20rem] gap-x-6">
        <TowerDrawing state={state} tower={tower} riders={riders} />
        <div className="space-y-4">
          {[...tower].reverse().map((t) => (
            <Floor key={t.id} thing={t} lower={tower.find((b) => b.id === t.rides_on)} act={act} />
          ))}
          <Standoffs />
        </div>
      </div>
      <section className="mt-5 border-t border-rule pt-3">
        <h2 className="mb-1.5 text-[14px]">With the same holes</h2>
        <ul className="space-y-1">
          {stackable.map((c) => (
            <li key={c.key} className="flex flex-wrap items-baseline gap-3">
              <span className="w-64">
                {c.label} <span className="num text-[12px] text-soft">{glance.get(c.key)?.holes}</span>
              </span>
              <Button
                onClick={() => {
                  under(c);
                }}
              >
                Under {foot.name}
              </Button>
              <Button
                onClick={() => {
                  onTop(c);
                }}
              >
                On {top.name}
              </Button>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

/** One board of the stack: what it stands on, changed in place. */
function Floor({
  thing: t,
  lower,
  act,
}: {
  thing: ThingOut;
  lower: ThingOut | undefined;
  act: SheetProps["act"];
}) {
  const stand = t.stand;
  const put = (change: Partial<Stand>, said: string) =>
    stand && void act.edit([{ do: "set-stand", id: t.id, stand: { ...stand, ...change } }], said);
  return (
    <section aria-label={t.name} className="border-l-2 border-rule pl-3">
      <h2 className="text-[14px]">{t.name}</h2>
      {stand && lower ? (
        <div className="mt-1 space-y-1">
          <NumberField
            tried
            label="Standoffs"
            value={stand.standoff_mm}
            min={0.5}
            onCommit={(v) => {
              put({ standoff_mm: v }, `standoffs of ${v} mm under ${t.name}`);
            }}
          />
          <Choice
            tried
            label="They are"
            value={stand.made}
            options={MADE}
            onPick={(made) => {
              put({ made }, `standoffs under ${t.name} ${made}`);
            }}
          />
          <NumberField
            tried
            label="Extender"
            value={stand.extender_mm}
            min={0}
            onCommit={(v) => {
              put({ extender_mm: v }, `an extender of ${v} mm under ${t.name}`);
            }}
          />
        </div>
      ) : (
        <p className="text-[12.5px] text-soft">stands on printed posts</p>
      )}
      <p className="mt-0.5 text-[12.5px]">
        Its height is sure to{" "}
        <Why label={`How sure the height of ${t.name} is`} trail={t.height_sure}>
          ±{show(t.height_sure.value, 2)}
        </Why>{" "}
        mm
        {t.ports.some((p) => p.needed)
          ? `, and so are its ${t.ports.filter((p) => p.needed).length} ports in use`
          : ""}
        .
      </p>
      {stand && (
        <Button
          className="mt-1"
          onClick={() => void act.edit([{ do: "remove", id: t.id }], `take ${t.name} out`)}
        >
          Take it off, with all on it
        </Button>
      )}
    </section>
  );
}

/** The lengths of standoffs that the workshop keeps. */
function Standoffs() {
  const list = useWorkshop().data?.workshop.standoffs_mm ?? [];
  return (
    <p className="text-[12.5px] text-soft">
      Standoffs in the workshop: <span className="num">{[...list].sort((a, b) => a - b).join(", ")}</span> mm.
      The list is kept under Workshop.
    </p>
  );
}

function TowerDrawing({
  state,
  tower,
  riders,
}: {
  state: SheetProps["state"];
  tower: ThingOut[];
  riders: ThingOut[];
}) {
  const made = state.view.case;
  const all = [...tower, ...riders];
  const lo = Math.min(...all.flatMap((t) => t.solids.map((s) => s.lo[0]!)));
  const hi = Math.max(...all.flatMap((t) => t.solids.map((s) => s.hi[0]!)));
  const roof = made.box_mm[2];
  const k = Math.min(300 / (hi - lo + 24), 360 / roof);
  const px = (x: number) => 14 + (x - lo + 12) * k;
  const pz = (z: number) => 10 + (roof - z) * k;
  const floor = made.cavity[0][2]!;
  const ceiling = made.cavity[1][2]!;
  const heights = tower.flatMap((t) =>
    t.solids.filter((s) => s.role === "board").map((s) => [t, s.lo[2]!, s.hi[2]!] as const),
  );
  return (
    <svg
      width={(hi - lo + 24) * k + 170}
      height={roof * k + 24}
      role="img"
      aria-label={`${tower.map((t) => t.name).join(" under ")}, from the front`}
      className="max-w-full"
    >
      <Hatch />
      <rect
        x={px(lo - 12)}
        y={pz(floor)}
        width={(hi - lo + 24) * k}
        height={floor * k}
        fill="url(#cut)"
        stroke="var(--ink)"
        strokeWidth="0.6"
      />
      <rect
        x={px(lo - 12)}
        y={pz(roof)}
        width={(hi - lo + 24) * k}
        height={(roof - ceiling) * k}
        fill="url(#cut)"
        stroke="var(--ink)"
        strokeWidth="0.6"
      />
      {all.map((t) =>
        [...t.solids]
          .filter((s) => s.role !== "keepout" && s.role !== "plug")
          .map((s) => (
            <rect
              key={`${t.id}/${s.name}`}
              x={px(s.lo[0]!)}
              y={pz(s.hi[2]!)}
              width={(s.hi[0]! - s.lo[0]!) * k}
              height={Math.max(0.6, (s.hi[2]! - s.lo[2]!) * k)}
              fill={FILL[s.role]}
              stroke="var(--ink)"
              strokeWidth="0.8"
              strokeDasharray={s.role === "pins" ? "2 2" : undefined}
            >
              <title>{`${s.name} of ${t.name}`}</title>
            </rect>
          )),
      )}
      {made.mounts
        .filter((p) => p.of === tower[0]!.id)
        .map((p) => (
          <rect
            key={p.mount}
            x={px(p.at[0]! - p.od_mm / 2)}
            y={pz(p.top_mm)}
            width={p.od_mm * k}
            height={(p.top_mm - floor) * k}
            fill="url(#cut)"
            stroke="var(--plum)"
          />
        ))}
      {heights.slice(1).map(([t, z], i) => {
        const below = heights[i]![2];
        return made.mounts
          .filter((p) => p.of === tower[0]!.id)
          .map((p) => (
            <rect
              key={`${t.id}/${p.mount}`}
              x={px(p.at[0]! - 2.5)}
              y={pz(z)}
              width={5 * k}
              height={(z - below) * k}
              fill={t.stand?.made === "printed" ? "url(#cut)" : "var(--leaf)"}
              stroke={t.stand?.made === "printed" ? "var(--plum)" : "var(--ink)"}
            />
          ));
      })}
      {heights.map(([t, z], i) => (
        <g key={t.id}>
          <path d={`M${px(hi + 12)} ${pz(z)}H${px(hi + 12) + 12}`} stroke="var(--slate)" />
          <text x={px(hi + 12) + 16} y={pz(z) + 4} fontSize="11.5" fill="var(--ink)">
            {t.name.length > 14 ? `${t.name.slice(0, 13)}…` : t.name}
          </text>
          <text x={px(hi + 12) + 16} y={pz(z) + 18} fontSize="11" fill="var(--slate)" className="num">
            {brief(z - floor, 1)} ±{show(t.height_sure.value, 2)}
          </text>
          {i > 0 && (
            <text
              x={px(hi) + 4}
              y={pz((z + heights[i - 1]![2]) / 2) + 4}
              fontSize="11.5"
              fill="var(--plum)"
              className="num"
            >
              {brief(z - heights[i - 1]![2], 1)}
            </text>
          )}
        </g>
      ))}
    </svg>
  );
}
