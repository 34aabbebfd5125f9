import { beforeEach, describe, expect, test } from "vitest";

import type { StateOut } from "../api/schema";
import { Refused, useUi } from "./desk";
import { heard, worst } from "./worst";

const state = {
  view: {
    concerns: [
      { severity: "stop", subjects: ["drive", "button"] },
      { severity: "weigh", subjects: ["fan", "drive"] },
      { severity: "advice", subjects: ["case"] },
    ],
  },
} as unknown as StateOut;

describe("the gravest concern about a thing", () => {
  test("concerns come worst first; cautions do not mark a thing", () => {
    expect(worst(state, "drive")).toBe("stop");
    expect(worst(state, "fan")).toBe("weigh");
    expect(worst(state, "case")).toBeNull();
    expect(worst(state, "board")).toBeNull();
  });
  test("a label says it in words", () => {
    expect([heard("stop"), heard("weigh"), heard(null)]).toEqual([
      ", with a stop",
      ", with something to weigh",
      "",
    ]);
  });
});

describe("what is selected and said in a window", () => {
  beforeEach(() => {
    useUi.setState({ selected: [], ghost: [], notice: null });
  });
  test("a choice takes the place of the one before; what is set leaves the rest", () => {
    useUi.getState().select(["a", "b"]);
    useUi.getState().select(["c"]);
    useUi.getState().set({
      ghost: [
        { do: "fit-cavity", thicker: [], pillar_mm: 0, beside_mm: 0, post_mm: 0, tips: [], only_out: false },
      ],
    });
    const now = useUi.getState();
    expect([now.selected, now.ghost.length, now.notice]).toEqual([["c"], 1, null]);
  });
  test("what the server refused is kept whole", () => {
    const body = {
      field: "wall_mm",
      message: "too thin",
      kept: "The design is unchanged.",
      do: "Type more.",
    };
    expect(new Refused(body).body).toEqual(body);
    expect(new Refused(body).message).toBe("too thin");
  });
});
