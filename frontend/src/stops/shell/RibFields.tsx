import { useState } from "react";

import type { Edit } from "../../api/client";
import type { SheetProps } from "../../desk/sheetProps";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";

type PutRibs = Extract<Edit, { do: "ribs" }>;
type RibFace = PutRibs["face"];

const USUAL = { count: 0, high_mm: 6, lines: 6 };

/** Ribs on the inside of the panels that may bear them: on which, how many, how high. */
export function RibFields({ state, act }: Pick<SheetProps, "state" | "act">) {
  const bear = state.view.case.parts.map((p) => p.ribbed).filter((f) => f !== "") as RibFace[];
  const faces = [...bear.filter((f) => f !== "bottom"), ...bear.filter((f) => f === "bottom")]; // a hand leans on the others
  const wished = state.design.shell.ribs ?? [];
  const [picked, pick] = useState<RibFace | null>(null);
  const face = (picked && faces.includes(picked) ? picked : null) ?? wished[0]?.face ?? faces[0];
  if (!face) return null;
  const now = wished.find((r) => r.face === face) ?? USUAL;
  const put = (change: Partial<typeof USUAL>, said: string) =>
    void act.edit((then) => {
      const was = then.design.shell.ribs?.find((r) => r.face === face) ?? USUAL;
      return [
        {
          do: "ribs",
          face,
          count: was.count ?? 0,
          high_mm: was.high_mm ?? USUAL.high_mm,
          lines: was.lines ?? USUAL.lines,
          ...change,
        },
      ];
    }, said);
  return (
    <>
      {faces.length > 1 && (
        <Choice
          label="Ribs on the"
          value={face}
          options={faces.map((value) => ({ value, label: value }))}
          onPick={pick}
        />
      )}
      <NumberField
        tried
        label={`Ribs, ${face}`}
        unit=""
        value={now.count ?? 0}
        min={0}
        onCommit={(count) => put({ count: Math.round(count) }, `${count} ribs on the ${face}`)}
      />
      {(now.count ?? 0) > 0 && (
        <>
          <NumberField
            tried
            label="Ribs, high"
            value={now.high_mm ?? USUAL.high_mm}
            min={1}
            onCommit={(high_mm) => put({ high_mm }, `ribs of ${high_mm} mm`)}
          />
          <NumberField
            tried
            label="Ribs, lines"
            unit=""
            value={now.lines ?? USUAL.lines}
            min={2}
            onCommit={(lines) => put({ lines: Math.round(lines) }, `ribs of ${lines} lines`)}
          />
        </>
      )}
    </>
  );
}
