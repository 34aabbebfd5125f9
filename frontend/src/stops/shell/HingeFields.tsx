import type { SheetProps } from "../../desk/sheetProps";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";

const SIDES = (["none", "back", "left", "right", "front"] as const).map((value) => ({ value, label: value }));
const ALONG = [
  { value: "two hinges", label: "two hinges", hint: "of three knuckles, one at either end" },
  { value: "whole side", label: "the whole side", hint: "knuckles all along it on one wire" },
] as const;
const USUAL = { side: "back", along: "two hinges", pin_mm: 2, knuckle_mm: 8 } as const;

/** On which side the lid of two halves turns about pins, and how thick these are. */
export function HingeFields({ state, act }: Pick<SheetProps, "state" | "act">) {
  const made = state.design.shell.construction;
  if (made.kind !== "two halves") return null;
  const now = made.hinge ?? null;
  return (
    <>
      <Choice
        tried
        label="Hinge"
        value={now?.side ?? "none"}
        options={SIDES}
        onPick={(side) =>
          void act.edit(
            [{ do: "hinge", hinge: side === "none" ? null : { ...(now ?? USUAL), side } }],
            side === "none" ? "let the lid lift off" : `hinges on the ${side}`,
          )
        }
      />
      {now && (
        <Choice
          tried
          label="Along it"
          value={now.along ?? "two hinges"}
          options={ALONG}
          onPick={(along) =>
            void act.edit(
              [{ do: "hinge", hinge: { ...now, along } }],
              along === "whole side" ? "knuckles along the whole side" : "two hinges",
            )
          }
        />
      )}
      {now && (
        <NumberField
          tried
          label="Pins"
          value={now.pin_mm}
          step={0.25}
          min={1.5}
          onCommit={(pin_mm) =>
            void act.edit([{ do: "hinge", hinge: { ...now, pin_mm } }], `pins of ${pin_mm} mm`)
          }
        />
      )}
    </>
  );
}
