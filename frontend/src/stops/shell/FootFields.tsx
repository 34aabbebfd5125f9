import type { SheetProps } from "../../desk/sheetProps";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";

const PLACES = [
  { value: "none", label: "none" },
  { value: "corners", label: "in the corners" },
  { value: "under", label: "and under what is heavy", hint: "supplies, cards, large drives" },
] as const;

const STANDS = [
  { value: "bottom", label: "its floor" },
  { value: "front", label: "its front", hint: "what comes off its top comes off towards you" },
  { value: "back", label: "its back", hint: "what comes off its top comes off towards you" },
  { value: "left", label: "its left side", hint: "what comes off its top comes off to the left" },
  { value: "right", label: "its right side", hint: "what comes off its top comes off to the right" },
] as const;

const KINDS = [
  { value: "stick-on", label: "stuck on", hint: "bought rubber feet" },
  { value: "screwed", label: "screwed on", hint: "bought feet; a screw from below, its nut inside" },
  { value: "printed", label: "printed soft", hint: "with a stud that is glued into a seat of the floor" },
] as const;

/** What the case stands on: where its feet are, which, and how high printed ones are. */
export function FootFields({ state, act }: SheetProps) {
  const s = state.design.shell;
  if (!state.view.case.footed) return null;
  const kind = s.foot ?? "stick-on";
  const on = s.stands_on ?? "bottom";
  const places = on === "bottom" ? PLACES : PLACES.slice(0, 2); // what is heavy stands over its floor
  const place = !s.feet ? "none" : s.feet_under && on === "bottom" ? "under" : "corners";
  return (
    <>
      <Choice
        tried
        label="Stands on"
        value={on}
        options={STANDS}
        onPick={(v) => {
          void act.edit(
            [{ do: "stand on", face: v }],
            `stand it on ${STANDS.find((x) => x.value === v)!.label}`,
          );
        }}
      />
      <Choice
        tried
        label="Feet"
        value={place}
        options={places}
        onPick={(v) => {
          void act.edit(
            (now) => [
              {
                do: "feet",
                foot: v === "none" ? null : (now.design.shell.foot ?? "stick-on"),
                under: v === "under",
                high_mm: null,
              },
            ],
            v === "none" ? "no feet" : v === "corners" ? "feet in the corners" : "feet under what is heavy",
          );
        }}
      />
      {s.feet && on === "bottom" && (
        <Choice
          tried
          label="They are"
          value={kind}
          options={KINDS}
          onPick={(v) => {
            void act.edit(
              (now) => [{ do: "feet", foot: v, under: now.design.shell.feet_under ?? false, high_mm: null }],
              `feet ${KINDS.find((k) => k.value === v)?.label ?? v}`,
            );
          }}
        />
      )}
      {s.feet && on === "bottom" && kind === "printed" && (
        <NumberField
          tried
          label="Feet, high"
          value={s.foot_mm!}
          step={1}
          onCommit={(v) => {
            void act.edit([{ do: "set", path: "shell.foot_mm", value: v }], `feet ${v} mm high`);
          }}
        />
      )}
    </>
  );
}
