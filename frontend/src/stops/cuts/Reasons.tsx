import { useState } from "react";

import type { PartOverBed } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { moves, useEffectOf } from "../../desk/useEffectOf";
import { Button } from "../../ui/Button";

type Reason = PartOverBed["reasons"][number];

/** Why a part may be divided that the bed takes whole, with what each reason gains and costs. */
export function Reasons({ part, state, act }: SheetProps & { part: PartOverBed }) {
  const [open, setOpen] = useState(false);
  const { reasons } = part;
  if (reasons.length === 0) return null;
  return (
    <details className="text-[12.5px]" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-soft">Other reasons to divide it</summary>
      {open && (
        <ul aria-label={`Reasons to divide the ${part.cuts.part}`} className="mt-1 space-y-2">
          {reasons.map((r) => (
            <li key={r.label}>
              <p>{r.words}</p>
              <Tried reason={r} state={state} />
              <Button onClick={() => void act.edit([r.edit], r.label)}>{r.label}</Button>
            </li>
          ))}
        </ul>
      )}
    </details>
  );
}

/** What it would change besides. */
function Tried({ reason, state }: { reason: Reason; state: SheetProps["state"] }) {
  const { data, isError } = useEffectOf(state, "", { label: reason.label, edits: [reason.edit], shop: [] });
  return (
    <p className="mb-1 min-h-[1.1rem] text-[11.5px] text-soft" aria-live="polite">
      {data?.refused ? (
        <span className="text-vermilion">not possible: {data.refused}</span>
      ) : data ? (
        <>
          {moves(data).join(" · ")}
          {data.gone.length > 0 && (
            <span className="text-verdigris"> · resolves: {data.gone.join("; ")}</span>
          )}
          {data.new.length > 0 && <span className="text-saffron"> · brings: {data.new.join("; ")}</span>}
        </>
      ) : isError ? (
        "could not be tried"
      ) : (
        "trying it …"
      )}
    </p>
  );
}
