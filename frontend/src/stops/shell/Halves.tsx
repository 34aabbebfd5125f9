import type { StateOut } from "../../api/schema";
import { brief, show } from "../../ui/number";
import { Scene } from "./Scene";

/** Two cases, drawn at one scale. */
export function Halves({
  now,
  then,
  titles,
}: {
  now: StateOut;
  then: StateOut;
  titles: readonly [string, string];
}) {
  return (
    <div className="grid min-h-0 grid-cols-2 gap-4">
      <Half title={titles[0]} state={now} beside={then} />
      <Half title={titles[1]} state={then} beside={now} />
    </div>
  );
}

function Half({ title, state, beside }: { title: string; state: StateOut; beside: StateOut }) {
  return (
    <figure className="flex min-h-0 flex-col">
      <div className="min-h-0 flex-1">
        <Scene state={state} open={0.35} cut={null} look="corner" parts chosen={null} beside={beside} />
      </div>
      <figcaption className="text-center font-head">{title}</figcaption>
    </figure>
  );
}

/** What changes from the one to the other: size, tally, sheets, stops. */
export function Differences({ now, then }: { now: StateOut; then: StateOut }) {
  const size = (s: StateOut) => s.view.stands.size_mm.map((x) => brief(x, 1)).join(" × ");
  const stops = (s: StateOut) => s.view.concerns.filter((c) => c.severity === "stop").length;
  const rows: [string, string, string, string][] = [
    ["Outer size", size(now), size(then), "mm"],
    ...now.view.tally.flatMap((t): [string, string, string, string][] => {
      const other = then.view.tally.find((x) => x.key === t.key);
      return other
        ? [[t.label, show(t.trail.value, t.digits), show(other.trail.value, t.digits), t.trail.unit]]
        : [];
    }),
    ["Sheets", String(now.view.sheets.length), String(then.view.sheets.length), ""],
    ["Concerns that stop", String(stops(now)), String(stops(then)), ""],
  ];
  return (
    <table className="mt-2 w-full text-left text-[13px]">
      <caption className="sr-only">What changes from the one to the other</caption>
      <tbody className="grid grid-cols-2 gap-x-8">
        {rows.map(([label, a, b, unit]) => (
          <tr key={label} className="grid grid-cols-[1fr_auto_auto] gap-x-3 border-b border-rule">
            <th scope="row" className="font-normal text-soft">
              {label}
            </th>
            <td className="num">{a}</td>
            <td className={`num min-w-24 text-right ${a === b ? "text-soft" : "font-medium"}`}>
              {a === b ? "same" : `→ ${b}`} {unit.replace("degC", "°C")}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
