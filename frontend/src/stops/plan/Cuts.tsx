import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";

/** Where each part is cut, and giving the cut a place of one's own. */
export function Cuts({ state, act }: SheetProps) {
  return (
    <section className="mt-6 border-t border-rule pt-4">
      <h2 className="mb-1 text-[15px]">Cuts</h2>
      {state.view.cuts.map((c) =>
        c.cuts.map((cut) => (
          <div key={`${c.part}-${cut.at_mm}`} className="flex flex-wrap items-baseline gap-4 py-1">
            <span className="w-14 font-medium">{c.part}</span>
            <NumberField
              label={`from the ${cut.axis === "x" ? "left" : "front"}`}
              value={cut.inside_mm}
              onCommit={(v) =>
                void act.edit(
                  [{ do: "put-cut", cut: { part: c.part, axis: cut.axis, at_mm: v } }],
                  `cut the ${c.part} at ${v}`,
                )
              }
            />
            <span className="text-soft">
              {cut.dowels.length} dowel pins of 3 mm
              {cut.crosses.length > 0 && `; through the ${cut.crosses.join(", ")}`}
            </span>
            {cut.pinned && (
              <Button
                onClick={() =>
                  void act.edit([{ do: "free-cuts", part: c.part }], "cut where the planner wants")
                }
              >
                Give it back to the planner
              </Button>
            )}
          </div>
        )),
      )}
    </section>
  );
}
