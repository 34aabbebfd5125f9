import type { Confirmed, Recognised } from "../../api/schema";
import { show } from "../../ui/number";

type Solids = NonNullable<Recognised["found"]>;

const MOST = 60;

/** What a solid that was found is called. */
export function SolidName({
  solid,
  confirmed: c,
  set,
  onPoint,
}: {
  solid: string;
  confirmed: Confirmed;
  set: (c: Confirmed) => void;
  onPoint: (name: string | null) => void;
}) {
  return (
    <input
      aria-label={`Name of ${solid}`}
      value={c.names[solid] ?? solid}
      maxLength={80}
      className="w-28 rounded-[3px] border border-rule bg-leaf px-1 py-0.5"
      onFocus={() => {
        onPoint(solid);
      }}
      onBlur={() => {
        onPoint(null);
      }}
      onChange={(e) => {
        const rest = Object.fromEntries(Object.entries(c.names).filter(([n]) => n !== solid));
        const name = e.target.value;
        set({ ...c, names: name && name !== solid ? { ...rest, [solid]: name } : rest });
      }}
    />
  );
}

/** Solids that are no ports, the bulkiest first: what each is called, and whether it comes along. */
export function FoundSolids({
  solids,
  board,
  confirmed: c,
  set,
  onPoint,
}: {
  solids: Solids;
  board: boolean;
  confirmed: Confirmed;
  set: (c: Confirmed) => void;
  onPoint: (name: string | null) => void;
}) {
  const bulk = (x: Solids[number]) => x.lo.reduce((v, lo, i) => v * (x.hi[i]! - lo), 1);
  const shown = [...solids].sort((a, b) => bulk(b) - bulk(a)).slice(0, MOST);
  return (
    <details className="mt-3" open={!board && solids.length <= 12}>
      <summary className="cursor-pointer">
        {solids.length}{" "}
        {board ? "more components on the board" : solids.length > 1 ? "convex cells" : "convex cell"}, the
        tallest <span className="num">{show(Math.max(...solids.map((x) => x.hi[2]!)), 1)}</span> mm up
      </summary>
      <table className="mt-1 text-[12.5px]">
        <thead className="text-left text-soft">
          <tr>
            <th className="pr-3 font-normal">Called</th>
            <th className="pr-3 font-normal">Size, mm</th>
            <th className="font-normal">Comes along</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((x) => (
            <tr
              key={x.name}
              onMouseEnter={() => {
                onPoint(x.name);
              }}
              onMouseLeave={() => {
                onPoint(null);
              }}
            >
              <td className="py-0.5 pr-3">
                <SolidName solid={x.name} confirmed={c} set={set} onPoint={onPoint} />
              </td>
              <td className="num pr-3">{x.lo.map((lo, i) => show(x.hi[i]! - lo, 1)).join(" × ")}</td>
              <td>
                <input
                  type="checkbox"
                  aria-label={`${x.name} comes along`}
                  className="accent-(--plum)"
                  checked={!c.left_out.includes(x.name)}
                  onChange={(e) => {
                    const rest = c.left_out.filter((n) => n !== x.name);
                    set({ ...c, left_out: e.target.checked ? rest : [...rest, x.name] });
                  }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {solids.length > MOST && (
        <p className="text-[12.5px] text-soft">The {solids.length - MOST} smallest come along as they are.</p>
      )}
    </details>
  );
}
