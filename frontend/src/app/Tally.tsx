import { useEffect, useRef } from "react";

import type { StateOut, TallyItem } from "../api/schema";
import { useHeld } from "../desk/useTried";
import { brief, show } from "../ui/number";
import { Why } from "../ui/Why";

/** The numbers that a decision moves, each with its change since the last kept revision; while a hand holds something, against those of now. */
export function Tally({ state }: { state: StateOut }) {
  const held = useHeld(state);
  const { view, design } = held ?? state;
  const since = held ? "Against the design as it stands" : "Since the last kept revision";
  const [w, d, h] = view.stands.size_mm;
  const walled = view.case.walls.length > 0;
  const items = view.tally.filter((t) => walled || !["litres", "wall_c"].includes(t.key));
  const rough = view.pieces.some((p) => p.estimate?.level === "preview");
  const whole = view.pieces.filter((p) => p.fits_bed).length;
  return (
    <footer
      aria-label="Tally"
      className="col-span-3 flex items-center gap-x-7 overflow-x-auto max-[900px]:flex-wrap max-[900px]:gap-y-1 max-[900px]:py-2 border-t border-rule px-4 whitespace-nowrap max-[1180px]:gap-x-4"
    >
      {walled && (
        <div>
          <p className="text-[11px] text-soft">Outer size</p>
          <p className="num text-[15px]">
            {brief(w, 1)} × {brief(d, 1)} × {brief(h, 1)} <span className="text-[12px] text-soft">mm</span>
          </p>
        </div>
      )}
      {items.map((t) => (
        <Item key={t.key} item={t} before={view.kept_tally[t.key]} since={since}>
          {t.key === "pieces" && (
            <span
              className={`text-[12px] ${whole === view.pieces.length ? "text-verdigris" : "text-vermilion"}`}
            >
              {!view.pieces.length && view.sheets.length
                ? "all is bought sheet"
                : whole === view.pieces.length
                  ? "all fit the bed"
                  : `${view.pieces.length - whole} too large`}
            </span>
          )}
          {t.key === "time_h" && rough && (
            <span className="text-[12px] text-soft" title="The preview; the settled figure is on its way">
              about
            </span>
          )}
          {t.key === "wall_c" && (
            <span className="text-[12px] text-soft">
              of {brief(view.bears.value)} ({design.process.filament})
            </span>
          )}
        </Item>
      ))}
    </footer>
  );
}

function Item({
  item,
  before,
  since,
  children,
}: {
  item: TallyItem;
  before?: number;
  since: string;
  children?: React.ReactNode;
}) {
  const { trail, digits } = item;
  const change =
    before === undefined
      ? 0
      : Number(show(trail.value, digits).replace("\u2212", "-")) - Number(before.toFixed(digits));
  const value = show(trail.value, digits);
  const box = useRef<HTMLDivElement>(null);
  const last = useRef(value);
  useEffect(() => {
    if (last.current === value) return;
    last.current = value;
    const el = box.current;
    el?.classList.remove("moved");
    void el?.offsetWidth;
    el?.classList.add("moved");
  }, [value]);
  return (
    <div ref={box}>
      <p className="text-[11px] text-soft">{item.label}</p>
      <p className="num flex items-baseline gap-1.5 text-[15px]">
        <Why trail={trail} label={item.label}>
          {value}
          {trail.unit && (
            <span className="text-[12px] text-soft"> {trail.unit === "degC" ? "°C" : trail.unit}</span>
          )}
        </Why>
        {Math.abs(change) > 1e-9 && (
          <span className="text-[11.5px] text-slate" title={since}>
            {change > 0 ? "+" : "\u2212"}
            {Math.abs(change).toFixed(digits)}
          </span>
        )}
        {children}
      </p>
    </div>
  );
}
