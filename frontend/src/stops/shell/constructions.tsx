import type { FC } from "react";

import type { StateOut } from "../../api/schema";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";

type Construction = StateOut["design"]["shell"]["construction"];

interface Props {
  of: Construction;
  /** Change a field of the construction. */
  set: (field: string, value: number | string, said: string) => void;
}

interface Controls {
  /** Numbers of its own, in the column of sizes. */
  Numbers: FC<Props>;
  /** Choices of its own, in the row of threads. */
  Choices: FC<Props>;
}

export const THREADS = [
  { value: "insert", label: "inserts", hint: "opened more than a few times" },
  { value: "cut in plastic", label: "cut in plastic", hint: "closed once" },
] as const;

const Nothing = () => null;

/** What each kind of construction lets a hand set: one entry for each. */
export const CONTROLS: Record<Construction["kind"], Controls> = {
  "two halves": {
    Numbers: ({ of, set }) =>
      of.kind === "two halves" && (
        <NumberField
          label="Joint at"
          value={of.joint_mm}
          step={0.5}
          onCommit={(v) => {
            set("joint_mm", v, `joint at ${v} mm`);
          }}
        />
      ),
    Choices: ({ of, set }) =>
      of.kind === "two halves" && (
        <Choice
          label="Lid threads"
          value={of.joint_thread}
          options={THREADS}
          onPick={(v) => {
            set("joint_thread", v, `lid: ${v}`);
          }}
        />
      ),
  },
  "loose panels": { Numbers: Nothing, Choices: Nothing },
};
