import type { FC } from "react";

import type { StateOut } from "../../api/schema";
import { MATERIALS } from "../../desk/materials";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";
import { Tick } from "../../ui/Tick";

export type Construction = StateOut["design"]["shell"]["construction"];
type Of<K extends Construction["kind"]> = Extract<Construction, { kind: K }>;

/** What a field may be given; a function of the construction as it stands where presses may follow one another. */
export type Given = number | string | string[];

interface Props<K extends Construction["kind"] = Construction["kind"]> {
  of: Of<K>;
  /** Change a field of the construction. */
  set: (field: string, value: Given | ((now: Construction) => Given), said: string) => void;
}

interface Controls {
  /** Numbers of its own, in the column of sizes. */
  Numbers: FC<Props>;
  /** Choices of its own, in the row of threads. */
  Choices: FC<Props>;
  /** What its uppermost wall is called, if it has one. */
  top: "Lid" | "Top" | null;
  /** Whether its upright corners can be round. */
  corners: boolean;
}

/** Of the case it is chosen at Hardware, where the core says which kinds can have it; posts always can. */
export const NUT = { value: "captive nut", label: "captive nuts", hint: "slid in from the side" } as const;
/** Likewise what goes right through the case. */
const RIGHT_THROUGH = [
  { value: "through bolt", label: "through bolts", hint: "to nuts in pockets under the floor" },
  { value: "threaded rod", label: "threaded rods", hint: "cut to length, with a nut at either end" },
] as const;
/** A post's screw may go right through the floor. */
export const NUT_BELOW = {
  value: "nut from below",
  label: "nuts from below",
  hint: "in pockets under the floor; the screws go right through",
} as const;
export const THREADS = [
  { value: "insert", label: "inserts", hint: "opened more than a few times" },
  { value: "cut in plastic", label: "cut in plastic", hint: "closed once" },
] as const;

const SIDES = [
  { value: "front", label: "front" },
  { value: "right", label: "right" },
  { value: "back", label: "back" },
  { value: "left", label: "left" },
] as const;

const Nothing = () => null;

/** A number of one kind of construction: its field, what it is called, and by how much it steps. */
function number<K extends Construction["kind"]>(
  kind: K,
  field: keyof Of<K> & string,
  label: string,
  step = 0.5,
) {
  return function Numbers({ of, set }: Props) {
    if (of.kind !== kind) return null;
    return (
      <NumberField
        tried
        label={label}
        value={(of as Of<K>)[field] as number}
        step={step}
        onCommit={(v) => {
          set(field, v, `${label.toLowerCase()} ${v} mm`);
        }}
      />
    );
  };
}

/** Whether catches hold the case, so that no screw does: those of a floor of sheet stay. */
const hooked = (of: Construction) =>
  "snaps" in of && of.snaps !== null && !("floor" in of && of.floor === "sheet");

/** The thread of the screws that hold the case, and what else is chosen. */
function threads(label: string, More: FC<Props> = Nothing) {
  return function Choices({ of, set }: Props) {
    return (
      <>
        {"joint_thread" in of && !hooked(of) && (
          <Choice
            tried
            label={label}
            value={of.joint_thread}
            options={[...THREADS, ...[NUT, ...RIGHT_THROUGH].filter((o) => o.value === of.joint_thread)]}
            onPick={(v) => {
              set("joint_thread", v, `${label.toLowerCase()}: ${v}`);
            }}
          />
        )}
        <More of={of} set={set} />
      </>
    );
  };
}

function Opens({ of, set }: Props) {
  if (of.kind !== "tray in a sleeve") return null;
  return (
    <>
      <FloorAndMaterial of={of} set={set} />
      <Choice
        tried
        label="Comes out"
        value={of.opens as (typeof SIDES)[number]["value"]}
        options={SIDES}
        onPick={(v) => {
          set("opens", v, `the tray comes out to the ${v}`);
        }}
      />
    </>
  );
}

const COVERS = ["front", "right", "back", "left", "top"] as const;
const FLOORS = [
  { value: "printed", label: "printed", hint: "with posts" },
  { value: "sheet", label: "of sheet", hint: "boards stand on bought standoffs, with nuts under it" },
] as const;

/** Which covers of a frame, or which panels that slide, are cut from sheet, and whether the floor is. */
function SheetCovers({ of, set }: Props) {
  if (of.kind !== "frame and covers" && of.kind !== "sliding panels") return null;
  const faces = [...COVERS, "bottom"] as const;
  return (
    <>
      <fieldset className="flex min-w-0 flex-wrap items-baseline gap-x-3 gap-y-1">
        <legend className="float-left mr-3 w-24 text-soft">Of sheet</legend>
        {faces.map((f) => (
          <label key={f} className="flex items-center gap-1">
            <Tick
              tried
              checked={of.sheet.includes(f)}
              onTick={(on) => {
                set(
                  "sheet",
                  (now) => {
                    const rest = "sheet" in now ? now.sheet.filter((x) => x !== f) : [];
                    return on ? [...rest, f] : rest;
                  },
                  on ? `${called(f)} of sheet` : `${called(f)} printed`,
                );
              }}
            />
            {called(f)}
          </label>
        ))}
      </fieldset>
      {of.sheet.length > 0 && <Material of={of} set={set} />}
    </>
  );
}

function called(face: string) {
  return face === "bottom" ? "floor" : face;
}

function Material({ of, set }: Props) {
  if (!("material" in of)) return null;
  return (
    <Choice
      tried
      label="Material"
      value={of.material}
      options={MATERIALS}
      onPick={(v) => {
        set("material", v, `sheet of ${v}`);
      }}
    />
  );
}

const Posts = number("sliding panels", "post_mm", "Posts");
const SheetThickness = number("sliding panels", "sheet_mm", "Sheet");

function PanelNumbers({ of, set }: Props) {
  return (
    <>
      <Posts of={of} set={set} />
      {of.kind === "sliding panels" && of.sheet.some((f) => f !== "top" && f !== "bottom") && (
        <SheetThickness of={of} set={set} />
      )}
    </>
  );
}

const WRAPS = [
  { value: "none", label: "none", hint: "a sheet for each side" },
  { value: "left to right", label: "left, top and right", hint: "of one sheet, bent twice" },
  { value: "front to back", label: "front, top and back", hint: "of one sheet, bent twice" },
] as const;

const Corner = number("corners and sheet", "corner_mm", "Corner pieces");
const Radius = number("corners and sheet", "bend_mm", "Bend radius");

function CornerNumbers({ of, set }: Props) {
  return (
    <>
      <Corner of={of} set={set} />
      {of.kind === "corners and sheet" && of.wrap !== "none" && <Radius of={of} set={set} />}
    </>
  );
}

function FloorOf({ of, set }: Props) {
  if (!("floor" in of)) return null;
  return (
    <Choice
      tried
      label="Floor"
      value={of.floor}
      options={FLOORS}
      onPick={(v) => {
        set("floor", v, v === "sheet" ? "floor of sheet" : "floor printed");
      }}
    />
  );
}

/** Whether a floor that carries everything is cut from sheet, and from which. */
function FloorAndMaterial({ of, set }: Props) {
  return (
    <>
      <FloorOf of={of} set={set} />
      {"floor" in of && of.floor === "sheet" && <Material of={of} set={set} />}
    </>
  );
}

/** The sheet of the corners, and whether one of it is bent over the top. */
function SheetAndBends({ of, set }: Props) {
  if (of.kind !== "corners and sheet") return null;
  return (
    <>
      <Material of={of} set={set} />
      <FloorOf of={of} set={set} />
      <Choice
        tried
        label="Bent sheet"
        value={of.wrap}
        options={WRAPS}
        onPick={(v) => {
          set("wrap", v, v === "none" ? "a sheet for each side" : `one sheet bent from ${v}`);
        }}
      />
    </>
  );
}

const Lip = number("core and wrap", "lip_mm", "Lip");

/** A core of sheet has no lip. */
function WrapNumbers({ of, set }: Props) {
  return of.kind === "core and wrap" && of.floor === "printed" ? <Lip of={of} set={set} /> : null;
}

const Gussets = number("open bench", "gusset_mm", "Gussets", 1);

/** Gussets stand beside the uprights of a printed plate. */
function BenchNumbers({ of, set }: Props) {
  return of.kind === "open bench" && of.plate === "printed" ? <Gussets of={of} set={set} /> : null;
}

function BenchPlate({ of, set }: Props) {
  if (of.kind !== "open bench") return null;
  return (
    <>
      <Choice
        tried
        label="Plate"
        value={of.plate}
        options={FLOORS}
        onPick={(v) => {
          set("plate", v, v === "sheet" ? "plate of sheet" : "plate printed");
        }}
      />
      {of.plate === "sheet" && <Material of={of} set={set} />}
    </>
  );
}

/** What each kind of construction lets a hand set: one entry for each. */
export const CONTROLS: Record<Construction["kind"], Controls> = {
  "two halves": {
    Numbers: number("two halves", "joint_mm", "Joint at"),
    Choices: threads("Lid threads"),
    top: "Lid",
    corners: true,
  },
  "tray in a sleeve": {
    Numbers: number("tray in a sleeve", "tab_mm", "Pull tab", 2),
    Choices: threads("Plate threads", Opens),
    top: "Top",
    corners: true,
  },
  "sliding panels": {
    Numbers: PanelNumbers,
    Choices: threads("Top threads", SheetCovers),
    top: "Top",
    corners: true,
  },
  "core and wrap": {
    Numbers: WrapNumbers,
    Choices: threads("Wrap threads", FloorAndMaterial),
    top: "Top",
    corners: true,
  },
  "frame and covers": {
    Numbers: number("frame and covers", "beam_mm", "Beams"),
    Choices: threads("Beam threads", SheetCovers),
    top: "Top",
    corners: false,
  },
  "corners and sheet": {
    Numbers: CornerNumbers,
    Choices: threads("Corner threads", SheetAndBends),
    top: "Top",
    corners: false,
  },
  "open bench": {
    Numbers: BenchNumbers,
    Choices: BenchPlate,
    top: null,
    corners: true,
  },
  "loose panels": { Numbers: Nothing, Choices: Nothing, top: null, corners: false },
};
