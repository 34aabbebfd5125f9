import { useMemo, useRef, useState } from "react";

import { api, type Edit } from "../../api/client";
import type { PartOverBed } from "../../api/schema";
import { meant, useUi } from "../../desk/desk";
import type { SheetProps } from "../../desk/sheetProps";
import { useTried } from "../../desk/useTried";
import { Button } from "../../ui/Button";
import { Pick } from "../../ui/Pick";
import { NumberField } from "../../ui/NumberField";
import { brief, lies, show } from "../../ui/number";
import { Typed } from "../../ui/typed";
import { Why } from "../../ui/Why";
import type { Cut, JoinKind } from "./seam";
import { CutOrder } from "./CutOrder";
import { ghostCuts } from "./ghostCuts";
import { PartMap } from "./PartMap";
import { Reasons } from "./Reasons";
import { SeamWays } from "./SeamWays";
import { alike, comesApart, held, heldAt, moment, same } from "./seam";
import { useCuts } from "./useCuts";

type Put = Extract<Edit, { do: "put-cuts" }>;

/** The part, and the design, as they would be with its cuts elsewhere. */
async function tryCuts(id: string, edit: Put) {
  const { data } = await api.POST("/api/designs/{id}/cuts/tried", {
    params: { path: { id } },
    body: { edit },
  });
  return data;
}

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
  const together = table.parts.filter((p) => p.cuts.cuts.some((c) => !c.pinned));
  const scale = Math.min(380 / Math.max(...sizes, 1), 2.4);
  return (
    <div
      className="h-full overflow-y-auto px-7 py-4"
      tabIndex={0}
      role="region"
      aria-label="Parts over the bed"
    >
      <p className="mb-3 text-soft">
        Over the bed of {state.view.printer.name}. Green: a cut costs nothing there; ochre: it has a price,
        the thicker the dearer (it is seen, has few pins, runs in line with another or where the part is bent
        most); red: it may not run there. Drag a cut: its pieces, what joins them and the hours follow. Or
        take it with the arrow keys.
      </p>
      {(state.design.cut_first.length > 0 || together.length > 1) && <CutOrder state={state} act={act} />}
      {table.parts.map((p) => (
        <Part key={p.cuts.part} part={p} scale={scale} state={state} act={act} />
      ))}
      {table.parts.length === 0 && <p className="text-soft">There is no printed part yet.</p>}
    </div>
  );
}

function Part({
  part: asItIs,
  scale,
  state,
  act,
}: {
  part: PartOverBed;
  scale: number;
  state: SheetProps["state"];
  act: SheetProps["act"];
}) {
  const { cuts: c, joins } = asItIs;
  const { tried, ask, rest, drop } = useTried(state.id, asItIs, tryCuts);
  const part = tried?.part ? { ...asItIs, ...tried.part } : asItIs;
  const [typing, setTyping] = useState(false); // what is tried was typed: the fields keep what the design has
  const looking = useRef(false);
  const dropped = tried !== null && !typing; // let go, and the table of the part has not come yet: there is no other to type over
  const typed = useMemo<Typed>(
    () => ({
      ask: (give) => {
        if (dropped) return;
        looking.current = true;
        const put = meant(give).find((e) => e.do === "put-cuts");
        looking.current = false;
        setTyping(true);
        if (put) void ask(put);
        else drop();
      },
      rest,
      drop,
    }),
    [ask, rest, drop, dropped],
  );
  const seams = typing
    ? asItIs.seams.map((s) => {
        const others = c.cuts.filter((x) => !same(x, s.cut));
        const there = part.seams.find((x) => same(x.cut, s.cut));
        return { ...(there ?? part.seams[heldAt(part.seams, s.cut, others)] ?? s), field: s.cut };
      })
    : part.seams.map((s) => ({ ...s, field: s.cut }));
  const ghosts = ghostCuts(
    useUi((s) => s.ghost),
    c.part,
    c.from_mm,
  );
  /** All cuts of the part as they stand, one of them at another place from the room's corner, turned, leaning or joined another way. What joins them the document
   * knows sooner than the table. */
  const changed = (cut: Cut, change: { at?: number; by?: JoinKind; turn?: number; lean?: number }) => {
    const own = state.design.cuts.filter((x) => x.part === c.part);
    const joined = (x: Cut) =>
      own.find((o) => o.axis === x.axis && Math.abs(o.at_mm - x.inside_mm) < 0.01)?.by ?? null;
    // a cut just let go is shown at its new place, and the table of the part may not have come yet
    const shown = part.cuts.cuts.some((x) => same(x, cut)) ? part.cuts.cuts : c.cuts;
    const cuts = shown.map((x) => {
      const at = same(x, cut) ? (change.at ?? x.inside_mm) : x.inside_mm;
      const turn_deg = same(x, cut) ? (change.turn ?? x.turn_deg) : x.turn_deg;
      const lean_deg = same(x, cut) ? (change.lean ?? x.lean_deg) : x.lean_deg;
      // one that leans has no other way to be joined
      const by = lean_deg ? null : same(x, cut) && change.by ? change.by : joined(x);
      return { part: c.part, axis: x.axis, at_mm: Math.round(at * 1000) / 1000, by, turn_deg, lean_deg };
    });
    return { do: "put-cuts" as const, part: c.part, cuts };
  };
  const put = async (cut: Cut, change: Parameters<typeof changed>[1], said: string) => {
    const given = act.edit([changed(cut, change)], said);
    if (looking.current) return;
    rest();
    if (!(await given)) drop();
  };
  const move = (cut: Cut, at: number) => put(cut, { at }, `cut the ${c.part} at ${brief(at, 1)}`);
  return (
    <section aria-label={`Cuts of the ${c.part}`} className="mb-6 border-t border-rule pt-3">
      <h2 className="text-[15px]">{c.part}</h2>
      <p className={`mb-2 ${c.no_place ? "text-vermilion" : "text-soft"}`}>
        {part.why}
        {part.smaller.length > 0 && ` It would be ${part.smaller.map((x) => x.words).join("; ")}.`}
        {c.cuts.some((x) => x.turn_deg || x.lean_deg) && " The bars along the edges are for straight cuts."}
        {c.cuts.some((x) => x.lean_deg) && " One that leans is glued alone, whatever joins the others."}
      </p>
      <div className="flex flex-wrap items-start gap-x-7 gap-y-3">
        <div>
          <PartMap
            part={part}
            scale={scale}
            ghosts={ghosts}
            live={tried?.part != null}
            onDrag={(cut, to) => {
              setTyping(false);
              if (to === null) drop();
              else void ask(changed(cut, { at: cut.inside_mm + to - cut.at_mm }));
            }}
            onMove={(cut, to) => void move(cut, cut.inside_mm + to - cut.at_mm)}
          />
        </div>
        <div className="min-w-[17rem] flex-1 space-y-2">
          <Typed.Provider value={typed}>
            {seams.map((s, i) => (
              <div key={`${s.cut.axis} ${i}`} className="border-b border-rule pb-2">
                <div className="flex flex-wrap gap-x-5 gap-y-1">
                  <NumberField
                    tried
                    label={`from the ${{ x: "left", y: "front", z: "floor" }[s.cut.axis]}`}
                    value={s.field.inside_mm}
                    onCommit={(v) => {
                      move(s.field, v);
                    }}
                  />
                  <div className="flex gap-x-5">
                    <NumberField
                      tried
                      label="turned"
                      unit="°"
                      inRow
                      narrow
                      value={s.field.turn_deg}
                      onCommit={(v) => {
                        put(s.field, { turn: v }, `turn a cut of the ${c.part} by ${brief(v, 1)}°`);
                      }}
                    />
                    <NumberField
                      tried
                      label="leaning"
                      unit="°"
                      inRow
                      narrow
                      value={s.field.lean_deg}
                      onCommit={(v) => {
                        put(s.field, { lean: v }, `lean a cut of the ${c.part} by ${brief(v, 1)}°`);
                      }}
                    />
                  </div>
                </div>
                <p className="mt-1 text-[12.5px]">
                  {held(s.cut)}
                  <span className="text-soft">
                    ; pieces within {brief(s.off_mm, 1)} mm; face of {show(s.face_mm2, 0)} mm²; about{" "}
                    {show(s.minutes, 0)} min of work
                  </span>
                </p>
                {s.costs?.price != null && (
                  <p className="text-[12.5px] text-soft">
                    Price of this place <span className="num">{brief(s.costs.price, 2)}</span>
                    {s.costs.why && `: ${s.costs.why}`}
                  </p>
                )}
                {part.seams.length > 1 && (
                  <p className="my-1 flex items-baseline gap-3">
                    <span className="text-soft">This cut by</span>
                    <Pick
                      label="This cut by"
                      value={s.cut.joined}
                      options={s.cut.lean_deg ? [s.cut.joined] : joins}
                      onPick={(by) => put(s.field, { by }, `${by} in one cut of the ${c.part}`)}
                    />
                  </p>
                )}
                <p className="text-[12.5px] text-soft">
                  {s.holds.glued ? "Glued it" : "It"} bears{" "}
                  <Why label={`What the seam of the ${c.part} bears`} trail={s.holds.low_nm}>
                    {moment(s.holds.low_nm.value)} – {moment(s.holds.high_nm)} N m
                  </Why>{" "}
                  in bending, {show(s.low_share * 100, 0)} – {show(s.high_share * 100, 0)} % of the uncut
                  part; at most{" "}
                  <Why label={`What bends the seam of the ${c.part}`} trail={s.holds.load_nm}>
                    <span
                      className={s.holds.low_nm.value < s.holds.load_nm.value ? "font-medium text-ink" : ""}
                    >
                      {moment(s.holds.load_nm.value)} N m
                    </span>
                  </Why>{" "}
                  bend it.
                  {s.holds.in_plane > 0 &&
                    ` Its necks alone hold ${show(s.holds.in_plane * 100, 0)} % of a pull in the plate.`}
                  {s.cut.crosses.length > 0 && (
                    <span className="text-vermilion"> It runs through the {s.cut.crosses.join(", ")}.</span>
                  )}
                </p>
                <SeamWays
                  seam={s}
                  name={`the cut ${i + 1} of the ${c.part}`}
                  onTake={(by) => {
                    put(
                      s.field,
                      { by },
                      `${by} in ${part.seams.length > 1 ? "one cut of " : ""}the ${c.part}`,
                    );
                  }}
                />
              </div>
            ))}
          </Typed.Provider>
          {c.cuts.length > 0 && (
            <JoinChoice
              part={c.part}
              label={c.cuts.length > 1 ? "All cuts by" : "Joined by"}
              by={alike(c.cuts)}
              joins={joins}
              act={act}
            />
          )}
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
          <Reasons part={part} state={state} act={act} />
          <div className="flex flex-wrap gap-2">
            {part.more.map((m) => (
              <Button
                key={m.axis}
                onClick={() => void act.edit([m.edit], `cut the ${c.part} once more across ${m.axis}`)}
              >
                {c.cuts.length > 0 ? "Cut once more" : "Cut"} across {m.axis}
              </Button>
            ))}
            {part.smaller.map((x) => (
              <Button key={x.label} onClick={() => void act.edit([x.edit], x.words)}>
                {x.label}
              </Button>
            ))}
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
  "printed pins": "eight-sided, printed beside the pieces; nothing is bought",
  "steel rods": "long bars in blocks inside, for large or loaded work: they bear where glue lets go",
  "rods through all pieces":
    "long rods in ridges from end to end, through every piece along them: they bear where glue lets go, and hold all pieces in one line",
  "glue alone": "nothing inside; set by eye and clamp",
  dovetails: "keyed in the plate: pressed together and glued, nothing is bought",
  "tongue and groove": "a ridge in the plate that prints without support: level to the touch outside",
  "half-lap":
    "half the plate runs on under the other half: strong in bending; the upper half hangs free while it prints",
  bolts: "flanges inside with a bolt and a nut each: no glue, and it comes apart again",
  "bridging plates":
    "printed plates across the cut inside, screwed into inserts: no glue, and it comes apart again",
  magnets:
    "disc magnets in blocks inside: pulled apart by hand, for covers that carry nothing; north faces out where a pocket has one notch, south where it has two",
} as const;

const EACH_ITS_OWN = "" as JoinKind;

function JoinChoice({
  part,
  label,
  by,
  joins,
  act,
}: {
  part: string;
  label: string;
  by: JoinKind | null;
  joins: readonly JoinKind[];
  act: SheetProps["act"];
}) {
  return (
    <div>
      <p className="mb-1 flex items-baseline gap-3">
        <span className="text-soft">{label}</span>
        <Pick
          label={label}
          value={by ?? EACH_ITS_OWN}
          options={by ? joins : [[EACH_ITS_OWN, "each its own way"], ...joins]}
          onPick={(v) => {
            if (v !== EACH_ITS_OWN) void act.edit([{ do: "join-cuts", part, by: v }], `${v} in the ${part}`);
          }}
        />
      </p>
      <p className="text-[12px] text-soft">
        {by && `${JOINED[by]}.`}
        {!comesApart(by) && " Glue in fresh air: its fumes and those of solvents make people ill."}
      </p>
    </div>
  );
}
