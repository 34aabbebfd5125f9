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
          <div
            key={`${c.part}-${cut.axis}-${cut.at_mm}`}
            className="flex flex-wrap items-baseline gap-4 py-1"
          >
            <span className="w-24 font-medium">{c.part}</span>
            <NumberField
              label={`from the ${{ x: "left", y: "front", z: "floor" }[cut.axis]}`}
              value={cut.inside_mm}
              onCommit={(v) =>
                void act.edit(
                  [
                    {
                      do: "put-cuts",
                      part: c.part,
                      cuts: c.cuts.map((x) => ({
                        part: c.part,
                        axis: x.axis,
                        at_mm: x === cut ? v : x.inside_mm,
                      })),
                    },
                  ],
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
