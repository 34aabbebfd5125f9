import { useQuery } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { LineDrawing } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { brief, duration } from "../../ui/number";
import { TableHead } from "../../ui/TableHead";

/** The part as it would lie on the bed. */
function Lying({ drawing: d }: { drawing: LineDrawing }) {
  const [w, h] = d.size;
  return (
    <svg
      aria-hidden
      className="mb-1 block h-16 w-24"
      viewBox={`0 0 ${w} ${h}`}
      preserveAspectRatio="xMinYMax meet"
    >
      <path
        d={d.strokes.map(([x0, y0, x1, y1]) => `M${x0} ${y0}L${x1} ${y1}`).join("")}
        fill="none"
        stroke="currentColor"
        strokeWidth="0.7"
        strokeLinecap="round"
      />
    </svg>
  );
}

/** Which side of a part goes down, with what speaks for and against each. */
export function Sides({ state, act, part }: SheetProps & { part: string }) {
  const sides = useQuery({
    queryKey: ["sides", state.id, state.version, part],
    staleTime: Infinity,
    queryFn: async () =>
      (await api.GET("/api/designs/{id}/sides/{part}", { params: { path: { id: state.id, part } } })).data
        ?.sides ?? [],
  });
  if (!sides.data) return <p className="text-soft">Turning the {part} over …</p>;
  const best = sides.data[0];
  return (
    <table className="w-full border-collapse text-left">
      <caption className="sr-only">Sides of the {part} to lie on, best first</caption>
      <TableHead
        heads={["Side down", "Time", "Support", "Strength", "Foot", "What speaks for and against"]}
        more
      />
      <tbody>
        {sides.data.map((s) => (
          <tr key={s.down} className="border-b border-rule align-middle">
            <th scope="row" className={`py-1.5 pr-4 font-medium ${s.now ? "text-plum" : ""}`}>
              <Lying drawing={s.picture} />
              {s.down}
              {s === best && <span className="ml-1.5 text-[11.5px] text-verdigris">best</span>}
            </th>
            <td className="num pr-4 whitespace-nowrap">{duration(s.time_s)}</td>
            <td className="num pr-4 whitespace-nowrap">{brief(s.support_g, 1)} g</td>
            <td className="num pr-4 whitespace-nowrap">{brief(s.strength * 100, 0)} %</td>
            <td className="num pr-4 whitespace-nowrap">{brief(s.foot_mm2 / 100, 0)} cm²</td>
            <td className="pr-4 text-[12.5px]">{s.why.join("; ")}</td>
            <td className="text-right whitespace-nowrap">
              {s.now ? (
                <span className="text-[12px] text-plum">lies so</span>
              ) : (
                <Button
                  onClick={() =>
                    void act.edit(
                      [{ do: "lay-part", part, down: s.down }],
                      `lay the ${part} on its ${s.down}`,
                    )
                  }
                >
                  Lay it so
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
