import type { FC } from "react";

import type { StateOut } from "../../api/schema";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";

type Construction = StateOut["design"]["shell"]["construction"];
type Of<K extends Construction["kind"]> = Extract<Construction, { kind: K }>;

interface Props<K extends Construction["kind"] = Construction["kind"]> {
  of: Of<K>;
  /** Change a field of the construction. */
  set: (field: string, value: number | string, said: string) => void;
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

export const THREADS = [
  { value: "insert", label: "inserts", hint: "opened more than a few times" },
  { value: "cut in plastic", label: "cut in plastic", hint: "closed once" },
] as const;

const MATERIALS = [
  { value: "acrylic", label: "acrylic" },
  { value: "plywood", label: "plywood" },
  { value: "aluminium", label: "aluminium" },
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

/** The thread of the screws that hold the case, and what else is chosen. */
function threads(label: string, More: FC<Props> = Nothing) {
  return function Choices({ of, set }: Props) {
    return (
      <>
        {"joint_thread" in of && (
          <Choice
            label={label}
            value={of.joint_thread}
            options={THREADS}
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
    <Choice
      label="Comes out"
      value={of.opens as (typeof SIDES)[number]["value"]}
      options={SIDES}
      onPick={(v) => {
        set("opens", v, `the tray comes out to the ${v}`);
      }}
    />
  );
}

function Material({ of, set }: Props) {
  if (of.kind !== "corners and sheet") return null;
  return (
    <Choice
      label="Sheet"
      value={of.material}
      options={MATERIALS}
      onPick={(v) => {
        set("material", v, `sheet of ${v}`);
      }}
    />
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
    Numbers: Nothing,
    Choices: threads("Plate threads", Opens),
    top: "Top",
    corners: true,
  },
  "sliding panels": {
    Numbers: number("sliding panels", "post_mm", "Posts"),
    Choices: threads("Top threads"),
    top: "Top",
    corners: true,
  },
  "core and wrap": {
    Numbers: number("core and wrap", "lip_mm", "Lip"),
    Choices: threads("Wrap threads"),
    top: "Top",
    corners: true,
  },
  "frame and covers": {
    Numbers: number("frame and covers", "beam_mm", "Beams"),
    Choices: threads("Beam threads"),
    top: "Top",
    corners: false,
  },
  "corners and sheet": {
    Numbers: number("corners and sheet", "corner_mm", "Corner pieces"),
    Choices: threads("Corner threads", Material),
    top: "Top",
    corners: false,
  },
  "open bench": {
    Numbers: number("open bench", "gusset_mm", "Gussets", 1),
    Choices: Nothing,
    top: null,
    corners: true,
  },
  "loose panels": { Numbers: Nothing, Choices: Nothing, top: null, corners: false },
};
