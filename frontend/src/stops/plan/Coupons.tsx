import { useState } from "react";

import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { brief } from "../../ui/number";
import { Tick } from "../../ui/Tick";

type Row = SheetProps["state"]["view"]["coupons"][number];

/** Small prints of one joint in five places: which are printed along, and which place fitted. */
export function Coupons({ state, act }: SheetProps) {
  const printer = state.view.printer;
  // what was just pressed shows at once, until the answer comes
  const [taken, setTaken] = useState<{ feature: string; mm: number } | null>(null);
  const now = (row: Row) => (taken?.feature === row.feature ? taken.mm : row.now_mm);
  const take = async (row: Row, mm: number) => {
    setTaken({ feature: row.feature, mm });
    const others = printer.allowances!.filter(
      (x) => x.feature !== row.feature || x.filament !== row.filament,
    );
    const mine = { feature: row.feature, filament: row.filament as (typeof others)[number]["filament"], mm };
    await act.remedy({
      label: `${row.label} on ${row.printer}: ${mm} mm`,
      edits: [],
      shop: [{ do: "put-printer", printer: { ...printer, allowances: [...others, mine] } }],
    });
    setTaken(null); // the answer tells it, or why not
  };
  return (
    <section className="mt-7 border-t border-rule pt-4" aria-labelledby="coupons">
      <h2 id="coupons" className="mb-1 text-[15px]">
        Coupons
      </h2>
      <p className="mb-2 max-w-[46rem] text-soft">
        A coupon is one joint in five places, tight to loose, told by their dimples. Print it first, try it,
        and press the number of the tightest that goes in by hand: every design on this printer follows.
      </p>
      <ul className="divide-y divide-rule">
        {state.view.coupons.map((row) => (
          <li key={row.feature} className="flex flex-wrap items-baseline gap-x-4 gap-y-1 py-1.5">
            <label className="flex w-[15rem] items-baseline gap-2">
              <Tick
                tried
                checked={row.wanted}
                onTick={(on) =>
                  void act.edit(
                    [{ do: "coupon", feature: row.feature, wanted: on }],
                    on ? `print a coupon: ${row.label}` : `no coupon: ${row.label}`,
                  )
                }
              />
              {row.label}
            </label>
            {row.wanted && (
              <span role="group" aria-label={`What fitted: ${row.label}`} className="flex flex-wrap gap-1.5">
                {row.places.map((p) => (
                  <Button
                    key={p.number}
                    kind="quiet"
                    title={`${brief(p.mm, 3)} ${row.unit}`}
                    onClick={() => {
                      void take(row, p.mm);
                    }}
                  >
                    {p.number}: {brief(p.mm, 3)}
                  </Button>
                ))}
              </span>
            )}
            <span className="text-[12px] text-soft">
              {now(row) === null
                ? `not measured on ${row.printer} in ${row.filament}`
                : `${row.printer} in ${row.filament}: ${brief(now(row)!, 3)} ${row.unit}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
