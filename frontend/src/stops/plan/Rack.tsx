import { Link } from "react-router";

import type { StateOut, Workshop } from "../../api/schema";
import { brief } from "../../ui/number";

/** The spools of the kinds this design takes, drawn down by it, the fullest first. */
export function Rack({ state, workshop }: { state: StateOut; workshop: Workshop }) {
  const wanted = new Map<string, number>();
  for (const p of state.view.pieces)
    wanted.set(p.process.filament!, (wanted.get(p.process.filament!) ?? 0) + (p.estimate?.mass_g.value ?? 0));
  const rows = [...wanted].flatMap(([kind, grams]) => {
    let left = grams;
    return workshop
      .spools!.filter((s) => s.filament === kind)
      .sort((a, b) => b.left_g - a.left_g)
      .map((s) => {
        const used = Math.min(left, s.left_g);
        left -= used;
        return { spool: s, used, short: 0 };
      });
  });
  return (
    <section className="mt-7 border-t border-rule pt-4">
      <h2 className="mb-2 text-[15px]">The rack</h2>
      {[...wanted].map(([kind, grams]) => {
        const left = workshop
          .spools!.filter((s) => s.filament === kind)
          .reduce((sum, s) => sum + s.left_g, 0);
        return (
          <p key={kind} className={left < grams ? "text-vermilion" : ""}>
            <span className="num">{brief(grams, 0)}</span> g of {kind} are wanted,{" "}
            <span className="num">{brief(left, 0)}</span> g are on the rack.
          </p>
        );
      })}
      <ul className="mt-2 grid grid-cols-2 gap-x-8 gap-y-2">
        {rows.map(({ spool: s, used }) => (
          <li key={s.id}>
            <p className="flex justify-between text-[12.5px]">
              <span>
                {s.filament} {s.colour}
              </span>
              <span className="num text-soft">
                {brief(s.left_g, 0)} → {brief(s.left_g - used, 0)} g
              </span>
            </p>
            <svg viewBox="0 0 1000 10" preserveAspectRatio="none" className="h-2 w-full" aria-hidden>
              <rect width="1000" height="10" fill="var(--rule)" fillOpacity="0.5" />
              <rect width={s.left_g} height="10" fill="var(--plum)" fillOpacity="0.28" />
              <rect width={Math.max(0, s.left_g - used)} height="10" fill="var(--plum)" fillOpacity="0.75" />
            </svg>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-[12px]">
        <Link className="text-plum underline" to="/workshop">
          Weigh spools and look after printers in the workshop
        </Link>
      </p>
    </section>
  );
}
