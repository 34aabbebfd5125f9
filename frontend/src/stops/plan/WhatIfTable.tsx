import { useState } from "react";

import type { WhatIf } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { busy, useJob } from "../../desk/useJob";
import { Button } from "../../ui/Button";
import { brief, duration, show } from "../../ui/number";
import { useSeen } from "../../ui/useSeen";
import { JobBar } from "../../ui/JobBar";

const GROUPS = [
  ["as stiff", "Fastest without losing stiffness"],
  ["one change", "One thing changed"],
  ["purpose", "By purpose"],
] as const;

/** What changes if: every way with its hours, grams and stiffness against now. */
export function WhatIfTable({ state, act }: SheetProps) {
  const [box, seen] = useSeen<HTMLElement>();
  const ask = seen ? { kind: "what-if" as const, design: state.id } : null;
  const work = useJob(["what-if", state.id, state.version], ask);
  const t = work.job;
  const ready = t?.state === "done";
  const some = t?.result ?? t?.best;
  const found = some?.kind === "what-if" ? some.ways : undefined;
  // until new ways are found the table of before stays, paler
  const [last, setLast] = useState<readonly WhatIf[]>([]);
  if (found && last !== found) setLast(found);
  const ways = found ?? last;
  const now = ways.find((w) => w.group === "now");
  return (
    <section ref={box} className="mt-7 border-t border-rule pt-4" aria-busy={seen && !ready}>
      <h2 className="mb-1 text-[15px]">What changes if</h2>
      {seen && !work.lost && (!t || busy(t)) && (
        <JobBar label="Trying other ways" job={t} meanwhile="Trying other ways …" onStop={work.stop} />
      )}
      {(work.lost || t?.state === "stopped" || t?.state === "failed") && (
        <p className="mb-2">
          {t?.state === "stopped"
            ? `Stopped; ${found ? "what was found by then stays. " : "nothing is lost. "}`
            : `Other ways could not be tried: ${work.lost || t?.message}. `}
          <Button onClick={work.again}>Try them again</Button>
        </p>
      )}
      {now && (
        <table className={`w-full border-collapse text-left ${ready ? "" : "text-soft"}`}>
          <caption className="sr-only">Other ways to print, against now</caption>
          <thead className="text-[12px] text-soft">
            <tr className="border-b border-ink/40">
              <th scope="col" className="py-1 pr-4 font-normal">
                {ready ? "Way" : found ? "Way (so far)" : "Way (before the last change)"}
              </th>
              {["Time", "against now", "Filament", "Cost", "Stiffness"].map((h) => (
                <th key={h} scope="col" className="py-1 pr-4 text-right font-normal">
                  {h}
                </th>
              ))}
              <td />
            </tr>
          </thead>
          <tbody>
            <Row way={now} now={now} />
          </tbody>
          {GROUPS.map(([group, label]) => {
            const mine = ways.filter((w) => w.group === group);
            return (
              mine.length > 0 && (
                <tbody key={group}>
                  <tr>
                    <th
                      scope="rowgroup"
                      colSpan={7}
                      className="pt-2.5 pb-0.5 text-[12px] font-normal text-soft"
                    >
                      {label}
                    </th>
                  </tr>
                  {mine.map((w) => (
                    <Row key={w.label} way={w} now={now} act={ready ? act : undefined} />
                  ))}
                </tbody>
              )
            );
          })}
        </table>
      )}
    </section>
  );
}

function Row({ way: w, now, act }: { way: WhatIf; now: WhatIf; act?: SheetProps["act"] | undefined }) {
  const share = w.time_s / now.time_s - 1;
  return (
    <tr className={`border-b border-rule align-baseline ${w.best ? "bg-plumwash/50" : ""}`}>
      <th scope="row" className="max-w-[19rem] py-1 pr-4 font-normal">
        <span className={w.best || w === now ? "font-medium" : ""}>{w.label}</span>
        {w.why && <span className="block text-[11.5px] leading-tight text-soft">{w.why}</span>}
        {!w.fits && <span className="block text-[11.5px] text-vermilion">not all parts fit that bed</span>}
      </th>
      <td className="num pr-4 text-right">{duration(w.time_s)}</td>
      <td
        className={`num pr-4 text-right ${share < -0.005 ? "text-verdigris" : share > 0.005 ? "text-saffron" : "text-soft"}`}
      >
        {w === now ? "" : `${share > 0 ? "+" : "−"}${brief(Math.abs(share) * 100, 0)} %`}
      </td>
      <td className="num pr-4 text-right">{show(w.mass_g, 0)} g</td>
      <td className="num pr-4 text-right">{show(w.money, 2)}</td>
      <td className={`num pr-4 text-right ${w.stiffness < 0.995 ? "text-saffron" : ""}`}>
        {brief(w.stiffness * 100, 0)} %
      </td>
      <td className="text-right">
        {act && <Button onClick={() => void act.edit(w.edits, w.label)}>Do it</Button>}
      </td>
    </tr>
  );
}
