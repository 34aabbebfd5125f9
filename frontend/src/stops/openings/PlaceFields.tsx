import type { SheetProps } from "../../desk/sheetProps";
import { NumberField } from "../../ui/NumberField";
import { moveTo } from "./mark";

/** Where on its face something is, to be typed. */
export function PlaceFields({
  act,
  id,
  name,
  at,
}: Pick<SheetProps, "act"> & { id: string; name: string; at: readonly [number, number] }) {
  return (["across", "up"] as const).map((label, i) => (
    <NumberField
      tried
      key={label}
      label={label}
      value={at[i]!}
      onCommit={(v) => {
        void act.edit((now) => moveTo(now, id, i, v), `move ${name}`);
      }}
    />
  ));
}
