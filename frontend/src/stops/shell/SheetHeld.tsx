import { api, complaint } from "../../api/client";
import type { SheetProps } from "../../desk/sheetProps";
import { useUi } from "../../desk/desk";
import { Choice } from "../../ui/Choice";

const WAYS = [
  { value: "screws", label: "screws", hint: "through holes that are drilled into it, to corner pieces" },
  { value: "slots", label: "slots", hint: "in posts from floor to top; only the top is screwed" },
] as const;

/** What holds the sheet of a case whose sides are all of it; what that takes is worked out by the core. */
export function SheetHeld({ state, act }: Pick<SheetProps, "state" | "act">) {
  const now = state.view.sheet_held;
  if (!now) return null;
  return (
    <Choice
      label="Sheet held by"
      value={now}
      options={WAYS}
      onPick={(by) => {
        void api
          .GET("/api/designs/{id}/sheet-held", { params: { path: { id: state.id }, query: { by } } })
          .then(({ data, error }) => {
            if (data) return act.edit([...data.edits], `sheet held by ${by}`);
            useUi.setState({ notice: complaint(error) });
            return false;
          });
      }}
    />
  );
}
