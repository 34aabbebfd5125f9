import { describe, expect, it } from "vitest";

import { freeName } from "./freeName";

describe("a key that nobody has", () => {
  it("is made of the words, and counted on where it is taken", () => {
    expect(freeName("PLA-Bone white!", new Set())).toBe("pla-bone-white-");
    expect(freeName("own-PLA", new Set(["own-pla", "own-pla-2", null]))).toBe("own-pla-3");
  });
});
