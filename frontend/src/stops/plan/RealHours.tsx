import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, complaint } from "../../api/client";
import type { PieceOut, Printer } from "../../api/schema";
import { Button } from "../../ui/Button";
import { brief, readMm } from "../../ui/number";

/** How long a piece really took: what its printer's pace and limits are learned from. */
export function RealHours({
  printer,
  piece: p,
  design,
}: {
  printer: Printer;
  piece: PieceOut;
  design: string;
}) {
  const client = useQueryClient();
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
        setSaid("Planning it with other limits …");
        void api
          .POST("/api/designs/{id}/diary/{part}", {
            params: { path: { id: design, part: p.name } },
            body: { real_s: took * 3600 },
          })
          .then(({ data, error }) => {
            setSaid(data ? `Noted in the diary of ${printer.name}.` : complaint(error).message);
            if (!data) return;
            setText("");
            client.setQueryData(["workshop"], data);
            void client.invalidateQueries({ queryKey: ["design"] });
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
          placeholder={e ? brief(e.time_s.value / 3600, 2) : ""}
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
