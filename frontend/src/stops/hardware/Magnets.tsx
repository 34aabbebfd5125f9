import type { Edit } from "../../api/client";
import type { HardwareTable } from "../../api/schema";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief, show } from "../../ui/number";
import { Why } from "../../ui/Why";
import { PolarityPlan } from "./PolarityPlan";

type Table = NonNullable<HardwareTable["magnets"]>;
type Chosen = NonNullable<Table["now"]>;

const GRADES = (["N35", "N42", "N52"] as const).map((g) => ({ value: g, label: g }));
const FIXED = [
  { value: "pressed", label: "pressed in", hint: "pockets as wide as the magnet" },
  { value: "glued", label: "glued", hint: "pockets wider by the room for glue" },
  { value: "closed in", label: "closed in", hint: "put in while the print pauses, under two layers" },
] as const;
const AGAINST = [
  { value: "magnets", label: "magnets", hint: "one in either part, face to face" },
  {
    value: "screw heads",
    label: "screw heads",
    hint: "half as many magnets; each screw is turned until the part sits flush; a weaker hold",
  },
] as const;
const POLES = [
  {
    value: "plan",
    label: "by plan",
    hint: "each part holds only where it belongs, as far as poles can do that",
  },
  { value: "alike", label: "all alike", hint: "parts of one size can be exchanged" },
] as const;

const SHAPES = [
  { value: "disc", label: "discs" },
  { value: "block", label: "blocks", hint: "longer and narrower: more pull in a beam of one width" },
] as const;

/** Magnets in place of the screws that are undone: which, what they hold, which pole goes where. Choices are those of the design as it
 * stands; figures are of what is pointed at. */
export function Magnets({
  table,
  looked,
  onEdit,
}: {
  table: Table;
  looked: HardwareTable["magnets"];
  onEdit: (e: Edit, said: string) => void;
}) {
  const { now, start } = table;
  if (!now)
    return start ? (
      <section aria-label="Magnets" className="mt-5 flex flex-wrap items-baseline gap-x-3 gap-y-1">
        <Button onClick={() => onEdit(start, "hold it by magnets")}>Hold it by magnets</Button>
        <span className="text-[12.5px] text-soft">
          Pairs of magnets in place of the screws that are undone; a notch for a finger, poles by plan.
        </span>
      </section>
    ) : null;
  const put = (change: Partial<Chosen>, said: string) =>
    onEdit({ do: "magnets", magnets: { ...now, ...change } }, said);
  const there = looked?.now ? looked : table;
  const shape = shapeOf(now);
  const size = table.size;
  const alike = table.offers.filter((o) => o.block === (shape === "block"));
  const sizes = alike
    .filter((o) => o.sits || o.words === size)
    .map((o) => ({ value: o.words, label: o.words }));
  if (!sizes.some((d) => d.value === size)) sizes.unshift({ value: size, label: size });
  const tooLarge = alike.filter((o) => !o.sits).length;
  return (
    <section aria-label="Magnets" className="mt-6 border-t border-rule pt-4">
      <h2 className="mb-1 text-[15px]">Magnets</h2>
      <Figures table={there} />
      <div className="mb-3 space-y-1">
        <div className="flex flex-wrap items-baseline gap-x-3">
          <Choice
            tried
            label="Shape"
            value={shape}
            options={SHAPES}
            onPick={(v) => table.other_shape && onEdit(table.other_shape, `${v} magnets`)}
          />
        </div>
        <div className="flex flex-wrap items-baseline gap-x-3">
          <Choice
            tried
            label="Size"
            value={size}
            options={sizes}
            onPick={(v) => {
              const to = table.offers.find((o) => o.words === v);
              if (to) onEdit(to.edit, `magnets ${v}`);
            }}
          />
          {tooLarge > 0 && (
            <span className="text-[12px] text-soft">
              {tooLarge} others leave too little plastic behind or round their pockets
            </span>
          )}
        </div>
        <Choice
          tried
          label="Grade"
          value={now.grade}
          options={GRADES}
          onPick={(grade) => put({ grade }, grade)}
        />
        <Choice
          tried
          label="Fixed"
          value={now.fixed}
          options={FIXED}
          onPick={(fixed) => put({ fixed }, `magnets ${fixed}`)}
        />
        <Choice
          tried
          label="Against"
          value={againstOf(now)}
          options={AGAINST}
          onPick={(against) => put({ against }, `magnets against ${against}`)}
        />
        {againstOf(now) === "magnets" && (
          <Choice
            tried
            label="Poles"
            value={now.keyed ? "plan" : "alike"}
            options={POLES}
            onPick={(v) => put({ keyed: v === "plan" }, v === "plan" ? "poles by plan" : "all poles alike")}
          />
        )}
        <Button onClick={() => onEdit({ do: "magnets", magnets: null }, "hold it by screws")}>
          Hold it by screws
        </Button>
      </div>
      <Held table={there} />
      <PolarityPlan parts={there.parts} heads={againstOf(there.now ?? now) === "screw heads"} />
    </section>
  );
}

const shapeOf = (chosen: Chosen) => (chosen.long_mm == null ? "disc" : "block");
const againstOf = (chosen: Chosen) => chosen.against ?? "magnets";

/** How many there are, how far apart, in pockets how wide. */
function Figures({ table }: { table: Table }) {
  if (!table.now) return null;
  const shape = shapeOf(table.now);
  const many =
    againstOf(table.now) === "screw heads"
      ? `${table.pairs} ${shape}s ${table.words}, ${brief(table.gap_mm, 2)} mm from the heads of as many screws when it is closed.`
      : `${table.pairs} pairs of ${shape}s ${table.words}, ${brief(table.gap_mm, 2)} mm apart when it is closed.`;
  const [narrow, wide] = table.pocket_mm;
  return (
    <p className="mb-2 text-soft">
      {many} Pockets <span className="num">{show(narrow, 2)}</span>
      {wide - narrow > 0.005 && (
        <>
          {" "}
          to <span className="num">{show(wide, 2)}</span>
        </>
      )}{" "}
      mm wide.
    </p>
  );
}

/** What each part is held with, against what it weighs and what lifts it. */
function Held({ table }: { table: Table }) {
  return (
    <table className="w-full border-collapse text-left">
      <caption className="sr-only">What magnets hold</caption>
      <thead className="text-[12px] text-soft">
        <tr className="border-b border-ink/40">
          {["Part", "Pairs", "Holds, N", "Sideways, N", "In a knock, N", "To lift, N", "Put on wrong"].map(
            (h) => (
              <th key={h} scope="col" className="py-1 pr-3 font-normal">
                {h}
              </th>
            ),
          )}
        </tr>
      </thead>
      <tbody>
        {table.parts.map(({ held: h }) => (
          <tr key={h.part} className="border-b border-rule">
            <th scope="row" className="py-1 pr-3 font-medium">
              {h.part}
            </th>
            <td className="num pr-3">{h.pairs.length}</td>
            <td className="num pr-3 whitespace-nowrap">
              <Why label={`What the magnets of ${h.part} hold at least`} trail={h.low_n}>
                {show(h.low_n.value, 0)}
              </Why>{" "}
              to {show(h.high_n.value, 0)}
            </td>
            <td className="num pr-3">{show(h.sideways_n, 0)}</td>
            <td className="num pr-3">
              <Why label={`What ${h.part} weighs in a knock`} trail={h.knock_n}>
                {show(h.knock_n.value, 1)}
              </Why>
            </td>
            <td className="num pr-3">
              {h.lift_n ? (
                <Why label={`What it takes to lift ${h.part}`} trail={h.lift_n}>
                  {show(h.lift_n.value, 0)}
                </Why>
              ) : (
                <span className="text-vermilion">no notch</span>
              )}
            </td>
            <td className="py-1">{wrongly(h.wrong)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The worst way to put a part on wrong, in words. */
function wrongly(wrong: Table["parts"][number]["held"]["wrong"]): string {
  if (wrong.length === 0) return "its magnets meet no others";
  const worst = wrong.reduce((a, b) => (b.attract / b.magnets > a.attract / a.magnets ? b : a));
  if (worst.attract === 0) return "pushed off";
  return worst.attract * 2 <= worst.magnets
    ? `does not hold: ${worst.attract} of ${worst.magnets} attract`
    : `holds: ${worst.attract} of ${worst.magnets} attract`;
}
