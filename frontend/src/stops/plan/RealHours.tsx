import { useState } from "react";

import type { PieceOut, Printer } from "../../api/schema";
import { Button } from "../../ui/Button";
import { brief, readMm } from "../../ui/number";
import { useChangePrinter } from "./useWorkshop";

/** How long a piece really took: what its printer's pace and acceleration are learned from. */
export function RealHours({
  printer,
  piece: p,
  design,
}: {
  printer: Printer;
  piece: PieceOut;
  design: string;
}) {
  const change = useChangePrinter();
  const [text, setText] = useState("");
  const [said, setSaid] = useState("");
  const e = p.estimate;
  return (
    <form
      className="mt-3 flex flex-wrap items-baseline gap-2 border-t border-rule pt-2"
      onSubmit={(event) => {
        event.preventDefault();
        const took = readMm(text);
        if (!took || took <= 0) {
          setSaid("Give the hours as a number above zero.");
          return;
        }
        const pace = e.time_s.inputs.find((i) => i.name === "pace")?.value ?? 1;
        const entry = {
          what: `${design}, ${p.name}`.slice(0, 60),
          planned_s: e.time_s.value / pace, // the diary keeps what the model says without the pace
          rush_s: e.rush_s,
          real_s: took * 3600,
        };
        void change(printer.key, (x) => ({ ...x, paced: [...(x.paced ?? []), entry] })).then((ok) => {
          setSaid(ok ? `Noted in the diary of ${printer.name}.` : "It could not be noted; try again.");
          if (ok) setText("");
        });
      }}
    >
      <label className="flex items-baseline gap-2">
        Printed? It really took
        <input
          value={text}
          onChange={(event) => {
            setText(event.target.value);
          }}
          placeholder={brief(e.time_s.value / 3600, 2)}
          className="num w-[4.6rem] rounded-[3px] border border-rule bg-leaf px-1.5 py-0.5 text-right"
        />
        h
      </label>
      <Button type="submit">Note it</Button>
      <span role="status" className="text-soft">
        {said}
      </span>
    </form>
  );
}
