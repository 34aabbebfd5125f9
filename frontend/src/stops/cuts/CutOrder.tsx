import { useState } from "react";

import type { SheetProps } from "../../desk/sheetProps";
import { busy, useJob } from "../../desk/useJob";
import { Button } from "../../ui/Button";
import { JobBar } from "../../ui/JobBar";
import { brief } from "../../ui/number";

/** In which order the parts are planned: a part that is cut later keeps out of line with those before it. Another order may cost less in all. */
export function CutOrder({ state, act }: SheetProps) {
  const [asked, setAsked] = useState(-1);
  const wanted = asked === state.version;
  const work = useJob(
    ["cut-order", state.id, asked],
    wanted ? { kind: "cut-order", design: state.id } : null,
  );
  const some = work.job?.result ?? work.job?.best;
  const found = wanted && some?.kind === "cut-order" ? some.order : undefined;
  const first = state.design.cut_first;
  const running = wanted && !work.lost && (!work.job || busy(work.job));
  const ended = wanted && !running;
  return (
    <div className="mb-3 text-[12.5px]" aria-busy={running}>
      {running && (
        <JobBar
          label="Planning all parts together"
          job={work.job}
          meanwhile="Looking for a cheaper order …"
          onStop={work.stop}
        />
      )}
      {ended && (work.lost || work.job?.state === "failed") && (
        <p className="mb-1">The parts could not be planned together: {work.lost || work.job?.message}.</p>
      )}
      {found && (found.edits.length > 0 || ended) && (
        <p className="mb-1">
          {found.edits.length > 0
            ? `Cheaper if cut in this order: ${found.best.join(", ")}. ${found.pieces} pieces at a price of ${brief(found.price, 2)} instead of ${found.pieces_now} at ${brief(found.price_now, 2)}. `
            : `No other order of the parts is cheaper: ${found.pieces} pieces at a price of ${brief(found.price, 2)}. `}
          {found.proven
            ? `All ${found.orders} orders were looked at.`
            : `${found.looked_at} of ${found.orders} orders were looked at.`}
        </p>
      )}
      {ended && work.job?.state === "stopped" && (
        <p className="mb-1">Stopped; {found ? "what was found by then stays." : "nothing is lost."}</p>
      )}
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        {found && found.edits.length > 0 && ended && (
          <Button onClick={() => void act.edit(found.edits, `cut the ${found.best[0]!} first`)}>
            Cut them in this order
          </Button>
        )}
        {!running && !found && (
          <Button onClick={() => (wanted ? work.again() : setAsked(state.version))}>
            Plan all parts together
          </Button>
        )}
        {first.length > 0 && (
          <>
            <span className="text-soft">Planned in this order: {first.join(", ")}, then the others.</span>
            <Button
              onClick={() => void act.edit([{ do: "order-cuts", parts: [] }], "plan the parts as they come")}
            >
              Plan them as they come
            </Button>
          </>
        )}
      </div>
    </div>
  );
}
