import type { PartOverBed } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";
import { brief, lies, show } from "../../ui/number";
import { Why } from "../../ui/Why";
import { PartMap } from "./PartMap";
import { useCuts } from "./useCuts";

type Cut = PartOverBed["cuts"]["cuts"][number];

/** Every part over its bed: where it is cut and why there, its pieces, and what joins them. */
export function CutsSheet({ state, act }: SheetProps) {
  const { data: table, isError } = useCuts(state);
  if (!table)
    return (
      <div className="grid h-full place-items-center text-soft" aria-busy={!isError}>
        {isError ? "The parts did not come. Look again in a moment." : "Laying the parts over the bed …"}
      </div>
    );
  const sizes = table.parts.map((p) => Math.max(...p.cuts.lo_mm.map((lo, k) => p.cuts.hi_mm[k]! - lo)));
  const scale = Math.min(380 / Math.max(...sizes, 1), 2.4);
  return (
    <div
      className="h-full overflow-y-auto px-7 py-4"
      tabIndex={0}
      role="region"
      aria-label="Parts over the bed"
    >
      <p className="mb-3 text-soft">
        Over the bed of {state.view.printer.name}. Green: a cut may run there; ochre: it costs looks or has
        few pins; red: it may not. Drag a cut, or take it with the arrow keys.
      </p>
      {table.parts.map((p) => (
        <Part key={p.cuts.part} part={p} joins={table.joins} scale={scale} act={act} />
      ))}
      {table.parts.length === 0 && <p className="text-soft">There is no printed part yet.</p>}
    </div>
  );
}

const same = (a: Cut, b: Cut) => a.axis === b.axis && a.at_mm === b.at_mm;

function Part({
  part,
  joins,
  scale,
  act,
}: {
  part: PartOverBed;
  joins: NonNullable<React.ComponentProps<typeof JoinChoice>["joins"]>;
  scale: number;
  act: SheetProps["act"];
}) {
  const c = part.cuts;
  /** All cuts of the part, one of them at another place from the room's corner. */
  const move = (cut: Cut, inside: number) =>
    void act.edit(
      [
        {
          do: "put-cuts",
          part: c.part,
          cuts: c.cuts.map((x) => ({
            part: c.part,
            axis: x.axis,
            at_mm: Math.round((same(x, cut) ? inside : x.inside_mm) * 1000) / 1000,
          })),
        },
      ],
      `cut the ${c.part} at ${brief(inside, 1)}`,
    );
  return (
    <section aria-label={`Cuts of the ${c.part}`} className="mb-6 border-t border-rule pt-3">
      <h2 className="text-[15px]">{c.part}</h2>
      <p className={`mb-2 ${c.no_place ? "text-vermilion" : "text-soft"}`}>
        {part.why}
        {part.smaller.length > 0 && ` It would be ${part.smaller.map((x) => x.words).join("; ")}.`}
      </p>
      <div className="flex flex-wrap items-start gap-x-7 gap-y-3">
        <PartMap part={part} scale={scale} onMove={(cut, to) => move(cut, cut.inside_mm + to - cut.at_mm)} />
        <div className="min-w-[17rem] flex-1 space-y-2">
          {part.seams.map((s, i) => (
            <div key={`${s.cut.axis} ${i}`} className="border-b border-rule pb-2">
              <NumberField
                label={`from the ${{ x: "left", y: "front", z: "floor" }[s.cut.axis]}`}
                value={s.cut.inside_mm}
                onCommit={(v) => {
                  move(s.cut, v);
                }}
              />
              <p className="mt-1 text-[12.5px]">
                {c.pin
                  ? `${s.cut.dowels.length} ${c.pin.item === "pin of filament" ? "pins of filament" : "dowel pins"}, ${brief(c.pin.d_mm, 2)} x ${brief(c.pin.long_mm, 1)}`
                  : "No pins"}
                <span className="text-soft">
                  ; pieces within {brief(s.off_mm, 1)} mm; face of {show(s.face_mm2, 0)} mm²; about{" "}
                  {show(s.minutes, 0)} min of work
                </span>
              </p>
              <p className="text-[12.5px] text-soft">
                Glued it bends as{" "}
                <Why label={`Strength of the seam of the ${c.part}`} trail={s.strength}>
                  {show(s.strength_low * 100, 0)} – {show(s.strength_high * 100, 0)} %
                </Why>{" "}
                of the uncut plate bears.
                {s.cut.crosses.length > 0 && (
                  <span className="text-vermilion"> It runs through the {s.cut.crosses.join(", ")}.</span>
                )}
              </p>
            </div>
          ))}
          {c.cuts.length > 0 && <JoinChoice part={c.part} by={c.joined} joins={joins} act={act} />}
          <ol className="text-[12.5px]" aria-label={`Pieces of the ${c.part}`}>
            {part.cells.map((x) => (
              <li key={x.number} className="flex gap-2">
                <span className="num w-4 text-right">{x.number}</span>
                <span className="font-medium">{x.piece.name}</span>
                <span className="num text-soft">{x.piece.bbox_mm.map((n) => brief(n, 1)).join(" x ")}</span>
                {x.piece.fits_bed ? (
                  <span className="text-soft">{lies(x.piece.angle_deg).replace(", ", "")}</span>
                ) : (
                  <span className="text-vermilion">{brief(x.piece.over_mm, 1)} mm too large</span>
                )}
              </li>
            ))}
          </ol>
          <div className="flex flex-wrap gap-2">
            {part.more.map((m) => (
              <Button
                key={m.axis}
                onClick={() => void act.edit([m.edit], `cut the ${c.part} once more across ${m.axis}`)}
              >
                {c.cuts.length > 0 ? "Cut once more" : "Cut"} across {m.axis}
              </Button>
            ))}
            {part.smaller.map(
              (x) =>
                x.edit && (
                  <Button key={x.words} onClick={() => void act.edit([x.edit!], x.words)}>
                    Make it {x.words}
                  </Button>
                ),
            )}
            {c.cuts.some((x) => x.pinned) && (
              <Button
                onClick={() =>
                  void act.edit([{ do: "free-cuts", part: c.part }], "cut where the planner wants")
                }
              >
                Give it back to the planner
              </Button>
            )}
          </div>
        </div>
      </div>
    </section>
  );
}

const JOINED = {
  "steel pins": "aligned to a tenth or two; the pins are bought",
  "filament pins": "cut from the spool; slimmer blocks",
  "glue alone": "nothing inside; set by eye and clamp",
} as const;

function JoinChoice({
  part,
  by,
  joins,
  act,
}: {
  part: string;
  by: PartOverBed["cuts"]["joined"];
  joins: readonly PartOverBed["cuts"]["joined"][];
  act: SheetProps["act"];
}) {
  return (
    <div>
      <Choice
        label="Joined by"
        value={by}
        options={joins.map((j) => ({ value: j, label: j, hint: JOINED[j] }))}
        onPick={(v) => void act.edit([{ do: "join-cuts", part, by: v }], `${v} in the ${part}`)}
      />
      <p className="text-[12px] text-soft">
        {JOINED[by]}. Glue in fresh air: its fumes and those of solvents make people ill.
      </p>
    </div>
  );
}
