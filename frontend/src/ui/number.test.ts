import { expect, test } from "vitest";

import { brief, readMm, show } from "./number";

test.each([
  ["85+2*3", 91],
  ["1/2in", 12.7], // 1 in = 25.4 mm by definition
  ['3.5"', 88.9],
  ["2 1/2 in", 63.5],
  ["12 mm", 12],
  ["12,5", 12.5],
  ["-(3+1)/2", -2],
  ["10mm+1in", 35.4],
])("%s is %f mm", (text, mm) => {
  expect(readMm(text)).toBeCloseTo(mm, 4);
});

test.each(["", "abc", "1+", "1 2", "(3", "1/0", "2px"])("%s is no number", (text) => {
  expect(readMm(text)).toBeNull();
});

test("numbers are shown without noise", () => {
  expect(show(-0.04)).toBe("0.0");
  expect(show(-3.25, 2)).toBe("\u22123.25");
  expect(brief(10)).toBe("10");
  expect(brief(2.5)).toBe("2.5");
  expect(brief(165.6)).toBe("165.6");
  expect(brief(100, 0)).toBe("100");
});
