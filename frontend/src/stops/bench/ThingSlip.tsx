import { useState } from "react";

import type { ThingOut } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { type Avoid, type Box, Slip } from "../../sheet/Slip";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { Tick } from "../../ui/Tick";

const AXES = ["from left", "from front", "over floor"] as const;
const FACES = ["front", "back", "left", "right", "top", "bottom"] as const;
const BLOWS = [
  ["in", "in"],
  ["out", "out"],
  [null, "not said"],
] as const;
const ENDS = [
  { value: "free", label: "free", hint: "nothing is under it" },
  { value: "post", label: "on a post", hint: "from the floor up to it" },
  {
    value: "hook",
    label: "on a hook",
    hint: "on the wall beside it, screwed from outside: it can come last",
  },
] as const;
const HOLDS = [
  { value: "screws", label: "its screws", hint: "through the wall and the fan" },
  { value: "slots", label: "slots", hint: "rails and two bars that take fans of several thicknesses" },
] as const;
const NORMAL: Record<string, number> = { left: 0, right: 0, front: 1, back: 1, top: 2, bottom: 2 };

/** The numbers of one thing: typed, nudged, turned. */
export function ThingSlip({
  state,
  act,
  thing: t,
  ...slip
}: SheetProps & {
  thing: ThingOut;
  beside: Box;
  avoid: Avoid[];
  within: { w: number; h: number };
  onClose: () => void;
}) {
  const [name, setName] = useState<string | null>(null);
  const at = t.at_mm;
  const outside = state.view.wishes.filter((w) => w.port.startsWith(`${t.id}/`));
  const lead = state.view.leads.find((l) =>
    state.design.leads.some(
      (x) => x.id === l.id && (x.start.startsWith(`${t.id}/`) || x.end.startsWith(`${t.id}/`)),
    ),
  );
  return (
    <Slip title={t.name} note={t.label} {...slip}>
      <input
        aria-label="Name"
        value={name ?? t.name}
        maxLength={60}
        onChange={(e) => {
          setName(e.target.value);
        }}
        onBlur={() => {
          if (name?.trim() && name !== t.name) void act.edit([{ do: "rename", id: t.id, name: name.trim() }]);
          setName(null);
        }}
        className="w-full rounded-[3px] border border-rule bg-leaf px-1.5 py-0.5"
      />
      {AXES.map((label, i) => (
        <NumberField
          tried
          key={label}
          label={label}
          value={at[i]!}
          disabled={t.face !== null && NORMAL[t.face] === i}
          onCommit={(v) => {
            const to_mm: [number | null, number | null, number | null] = [null, null, null];
            to_mm[i] = v;
            void act.edit([{ do: "move", id: t.id, to_mm }], `move ${t.name}`);
          }}
        />
      ))}
      {t.face !== null ? (
        <div className="flex flex-wrap gap-x-1" role="group" aria-label="Face it sits on">
          {FACES.map((f) => (
            <button
              key={f}
              type="button"
              aria-pressed={t.face === f}
              onClick={() =>
                void act.edit([{ do: "to-face", id: t.id, face: f, at_mm: at }], `${t.name} to the ${f}`)
              }
              className={`cursor-pointer border-b-2 px-1 ${t.face === f ? "border-plum font-medium" : "border-transparent text-soft hover:text-ink"}`}
            >
              {f}
            </button>
          ))}
        </div>
      ) : (
        <Button onClick={() => void act.edit([{ do: "turn", id: t.id, by: 90 }], `turn ${t.name}`)}>
          Quarter turn <span className="num text-soft">{t.turn}°</span>
        </Button>
      )}
      {t.fan && (
        <div className="flex flex-wrap items-baseline gap-x-1" role="group" aria-label="Which way it blows">
          <span className="mr-1 text-soft">blows</span>
          {BLOWS.map(([blows, label]) => (
            <button
              key={label}
              type="button"
              aria-pressed={t.blows === blows}
              onClick={() =>
                void act.edit(
                  [{ do: "blow", id: t.id, blows }],
                  blows ? `${t.name} blows ${blows}` : `${t.name}: its way is not said`,
                )
              }
              className={`cursor-pointer border-b-2 px-1 ${t.blows === blows ? "border-plum font-medium" : "border-transparent text-soft hover:text-ink"}`}
            >
              {label}
            </button>
          ))}
        </div>
      )}
      {t.fan && (
        <Choice
          tried
          label="Held by"
          value={t.slotted ? "slots" : "screws"}
          options={HOLDS}
          onPick={(by) =>
            void act.edit(
              [{ do: "hold-fan", id: t.id, slotted: by === "slots" }],
              `${t.name} held by ${by === "slots" ? "slots" : "its screws"}`,
            )
          }
        />
      )}
      {t.one_end && (
        <Choice
          tried
          label="Free end"
          value={t.rests_on ?? "free"}
          options={ENDS}
          onPick={(on) =>
            void act.edit(
              [{ do: "prop-up", id: t.id, rests_on: on === "free" ? null : on }],
              on === "free" ? `nothing under ${t.name}` : `a ${on} under ${t.name}`,
            )
          }
        />
      )}
      {outside.length > 0 && (
        <fieldset className="border-t border-rule pt-1.5">
          <legend className="sr-only">Ports needed from outside</legend>
          {outside.map((w) => (
            <label key={w.port} className="flex items-baseline gap-2">
              <Tick
                tried
                checked={w.needed}
                onTick={(on) => void act.edit([{ do: "need", port: w.port, needed: on }])}
              />
              <span className="flex-1">{w.name}</span>
              <span className="text-[11.5px] text-soft">{w.needed ? w.face : "not needed"}</span>
            </label>
          ))}
        </fieldset>
      )}
      {lead && (
        <p className="border-t border-rule pt-1.5">
          {lead.name}: <span className="num">{brief(lead.length_mm, 0)}</span> mm, needs{" "}
          <span className="num">{brief(lead.needed.value, 0)}</span>
        </p>
      )}
      <p className="border-t border-rule pt-1.5 text-[11.5px] text-soft">
        <span className="num">{brief(t.heat_w, 1)}</span> W, <span className="num">{brief(t.mass_g, 0)}</span>{" "}
        g. {t.source}
      </p>
      <Button
        kind="quiet"
        className="text-vermilion"
        onClick={() => void act.edit([{ do: "remove", id: t.id }], `take ${t.name} out`)}
      >
        Take it out
      </Button>
    </Slip>
  );
}
