import { useState } from "react";

import type { Way } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { busy, useJob } from "../../desk/useJob";
import { Button } from "../../ui/Button";
import { JobBar } from "../../ui/JobBar";
import { brief, duration, show } from "../../ui/number";
import { SideBySide } from "./SideBySide";

const HEADS = [
  "Outside",
  "Parts",
  "Filament",
  "Printing",
  "Money",
  "Screws (kinds)",
  "To get in",
  "Panel gives",
];

/** Every way to make a case of this arrangement, with its numbers; one is recommended. */
export function ConstructionsTable({ state, act, onClose }: SheetProps & { onClose: () => void }) {
  const work = useJob(["constructions", state.id, state.version], {
    kind: "constructions",
    design: state.id,
  });
  const t = work.job;
  const some = t?.result ?? t?.best;
  const found = some?.kind === "constructions" ? some.ways : undefined;
  // until new ways are found the table of before stays, paler
  const [last, setLast] = useState<readonly Way[]>([]);
  if (found && last !== found) setLast(found);
  const ways = found ?? last;
  const ready = t?.state === "done";
  const [beside, setBeside] = useState<string | null>(null);
  const take = (w: Way) => {
    void act.edit(w.edits, `make it as ${w.kind}`).then((done) => {
      if (done) onClose();
    });
  };
  const other = ways.find((w) => w.kind === beside);
  if (other)
    return (
      <SideBySide
        state={state}
        act={act}
        kind={other.kind}
        edits={other.edits}
        onClose={() => {
          setBeside(null);
        }}
        onTake={() => {
          take(other);
        }}
      />
    );
  return (
    <section
      aria-label="Constructions"
      aria-busy={!ready}
      className="h-full overflow-y-auto px-6 py-4"
      tabIndex={0}
    >
      <div className="mb-2 flex items-baseline gap-4">
        <h2 className="text-[17px]">How the case is made</h2>
        <p className="flex-1 text-soft">
          What is placed, cut open and fitted stays as it is. Grams and hours are quick estimates.
        </p>
        <Button onClick={onClose}>Back to the drawing</Button>
      </div>
      {!work.lost && (!t || busy(t)) && (
        <JobBar label="Trying constructions" job={t} meanwhile="Trying constructions …" onStop={work.stop} />
      )}
      {(work.lost || t?.state === "stopped" || t?.state === "failed") && (
        <p className="mb-2">
          {t?.state === "stopped"
            ? "Stopped; what was found by then stays. "
            : `They could not be tried: ${work.lost || t?.message}. `}
          <Button onClick={work.again}>Try them again</Button>
        </p>
      )}
      {ways.length > 0 && (
        <table className={`w-full border-collapse text-left ${ready ? "" : "text-soft"}`}>
          <caption className="sr-only">Constructions of this arrangement, with the numbers of each</caption>
          <thead className="text-[12px] text-soft">
            <tr className="border-b border-ink/40">
              <th scope="col" className="py-1 pr-3 font-normal">
                Construction
              </th>
              {HEADS.map((h) => (
                <th key={h} scope="col" className="py-1 pr-3 text-right font-normal">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          {ways.map((w) => (
            <Row
              key={w.kind}
              way={w}
              onTake={
                ready && !w.now && w.edits.length
                  ? () => {
                      take(w);
                    }
                  : undefined
              }
              onLook={() => {
                setBeside(w.kind);
              }}
            />
          ))}
        </table>
      )}
    </section>
  );
}

function Row({
  way: w,
  onTake,
  onLook,
}: {
  way: Way;
  onTake?: (() => void) | undefined;
  onLook: () => void;
}) {
  const made = w.edits.length > 0;
  const cells = made
    ? [
        `${brief(w.litres, 2)} l`,
        `${w.parts}${w.sheets ? ` + ${w.sheets} ${w.sheets === 1 ? "sheet" : "sheets"}` : ""}`,
        `${show(w.mass_g, 0)} g`,
        duration(w.time_h * 3600),
        show(w.money, 2),
        `${w.screws} (${w.screw_kinds})`,
        w.parts_off ? `${w.parts_off} part, ${w.screws_off} screws` : "open",
        w.bends ? `${brief(w.bend_mm, 1)} mm` : "none",
      ]
    : HEADS.map(() => "");
  return (
    <tbody className={w.recommended ? "bg-plumwash/50" : ""}>
      <tr className="align-baseline">
        <th scope="row" className={`pt-2 pr-3 ${w.now || w.recommended ? "font-medium" : "font-normal"}`}>
          {w.kind}
          {w.now && <span className="font-normal text-soft"> (now)</span>}
        </th>
        {cells.map((c, i) => (
          <td key={HEADS[i]} className="num pt-2 pr-3 text-right whitespace-nowrap">
            {c}
          </td>
        ))}
      </tr>
      <tr className="border-b border-rule">
        <td colSpan={9} className="pb-2 text-[12px] leading-snug text-soft">
          <div className="flex items-start gap-4">
            <p className="flex-1 pt-0.5">
              {w.suits ? w.why : <span className="text-vermilion">Does not suit: {w.why}</span>}. Gives up:{" "}
              {w.gives_up}.
              {!w.fits_bed && made && <span className="text-vermilion"> Not all pieces fit the bed.</span>}
              {w.suits && w.stops.length > 0 && (
                <span className="text-vermilion"> Brings: {w.stops.join("; ")}.</span>
              )}
            </p>
            {onTake && (
              <div className="flex shrink-0 gap-2 text-ink">
                <Button kind="quiet" onClick={onLook}>
                  Look at both
                </Button>
                <Button onClick={onTake}>Make it so</Button>
              </div>
            )}
          </div>
        </td>
      </tr>
    </tbody>
  );
}
