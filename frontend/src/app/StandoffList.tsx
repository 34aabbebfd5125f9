import { useState } from "react";

import type { Put } from "../desk/workshop";

/** The lengths of standoffs in the workshop, as a list that is typed. */
export function StandoffList({ lengths, put }: { lengths: readonly number[]; put: Put }) {
  const [text, setText] = useState<string | null>(null);
  const done = () => {
    if (text === null) return;
    const read = text
      .split(/[\s,;]+/)
      .map(Number)
      .filter((v) => Number.isFinite(v) && v > 0 && v <= 200);
    setText(null);
    put([{ do: "set-standoffs", lengths_mm: [...new Set(read)].sort((a, b) => a - b).slice(0, 60) }]);
  };
  return (
    <section className="mt-7 pb-6">
      <h2 className="mb-2 text-[16px]">Standoffs</h2>
      <label className="flex items-baseline gap-2">
        <span className="text-soft">Lengths that are bought</span>
        <input
          value={text ?? [...lengths].sort((a, b) => a - b).join(", ")}
          onChange={(e) => {
            setText(e.target.value);
          }}
          onBlur={done}
          onKeyDown={(e) => {
            if (e.key === "Enter") done();
          }}
          className="num w-96 rounded-[3px] border border-rule bg-paper px-1.5 py-0.5"
        />
        <span className="text-soft">mm</span>
      </label>
    </section>
  );
}
