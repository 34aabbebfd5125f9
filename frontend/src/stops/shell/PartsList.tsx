import type { StateOut } from "../../api/schema";
import { brief, duration, show } from "../../ui/number";

interface Props {
  state: StateOut;
  chosen: string | null;
  onChoose: (part: string | null) => void;
}

/** The parts of the case by name; the one that is chosen says what it is, and is picked out in the drawing. */
export function PartsList({ state, chosen, onChoose }: Props) {
  const { parts } = state.view.case;
  return (
    <ul
      aria-label="Parts of the case"
      className="max-h-56 max-[900px]:max-h-24 overflow-y-auto border-y border-rule bg-leaf/80"
      tabIndex={0}
    >
      {parts.map((p) => (
        <li key={p.name} className="border-b border-rule last:border-0">
          <button
            type="button"
            aria-expanded={p.name === chosen}
            className={`flex w-full cursor-pointer items-baseline gap-x-2 px-1 py-0.5 text-left hover:bg-plumwash ${p.name === chosen ? "bg-plumwash" : ""}`}
            onClick={() => {
              onChoose(p.name === chosen ? null : p.name);
            }}
          >
            <span className="min-w-[5.6rem]">{p.name}</span>
            <span className="num whitespace-nowrap text-soft">{figures(state, p.name)}</span>
          </button>
          {p.name === chosen && <Slip state={state} part={p} />}
        </li>
      ))}
    </ul>
  );
}

function figures(state: StateOut, part: string) {
  const sheet = state.view.sheets.find((x) => x.part === part);
  if (sheet) return `${sheet.material}, ${show(sheet.money.value, 2)} EUR`;
  const mine = state.view.pieces.filter((x) => x.part === part).flatMap((x) => x.estimate ?? []);
  if (!mine.length) return "";
  const [grams, seconds] = [
    mine.reduce((n, e) => n + e.mass_g.value, 0),
    mine.reduce((n, e) => n + e.time_s.value, 0),
  ];
  return `${show(grams, 0)} g, ${duration(seconds)}`;
}

/** Size, how it lies, and what holds it. */
function Slip({ state, part }: { state: StateOut; part: StateOut["view"]["case"]["parts"][number] }) {
  const piece = state.view.pieces.find((x) => x.part === part.name);
  const sheet = state.view.sheets.find((x) => x.part === part.name);
  const size = sheet ? [...sheet.size_mm, sheet.thick_mm] : piece?.bbox_mm;
  const mine = state.view.case.joints.filter((j) => j.holds === part.name || j.into === part.name);
  const kinds = new Map<string, number>();
  for (const j of mine) {
    const name = j.screw_mm
      ? `${j.thread.replace("_", ".")} x ${j.screw_mm}, ${brief(j.grip_mm, 1)} mm through and ${brief(j.engagement_mm, 1)} mm in the thread`
      : `${j.thread.replace("_", ".")}, none in stock`;
    kinds.set(name, (kinds.get(name) ?? 0) + 1);
  }
  const standoffs = state.view.case.mounts.filter((m) => m.part === part.name && m.holding === "nut");
  const pairs = state.view.case.magnets.filter((m) => m.holds === part.name || m.into === part.name);
  return (
    <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 px-1 pb-1 text-[12px] text-soft">
      {size && (
        <>
          <dt>size</dt>
          <dd className="num">{size.map((x) => brief(x, 1)).join(" × ")} mm</dd>
        </>
      )}
      {sheet && (
        <>
          <dt>mass</dt>
          <dd className="num">{show(sheet.mass_g, 0)} g</dd>
        </>
      )}
      {sheet?.bends[0] && (
        <>
          <dt>bent</dt>
          <dd className="num">
            {sheet.bends.length} times, inner radius {brief(sheet.bends[0].inner_mm, 1)} mm; each bend takes{" "}
            {brief(sheet.bends[0].allowance_mm, 2)} mm of the flat
          </dd>
        </>
      )}
      <dt>{sheet ? "cut" : "lies"}</dt>
      <dd>
        {sheet
          ? "from bought sheet: outline and holes are among the export files as DXF and SVG"
          : `on its ${piece?.down ?? part.down}${part.shown && piece?.down === part.down ? `: ${part.shown}` : ""}`}
      </dd>
      {standoffs.length > 0 && (
        <>
          <dt>standoffs</dt>
          <dd className="num">{standoffs.length}, each screwed through it with a nut under it</dd>
        </>
      )}
      {[...kinds].map(([name, n]) => (
        <div key={name} className="contents">
          <dt>screws</dt>
          <dd className="num">
            {n} x {name}
          </dd>
        </div>
      ))}
      {pairs[0] && (
        <>
          <dt>magnets</dt>
          <dd className="num">
            {pairs.length} pairs of {brief(pairs[0].d_mm, 1)} x {brief(pairs[0].high_mm, 1)}, {pairs[0].grade}
          </dd>
        </>
      )}
    </dl>
  );
}
