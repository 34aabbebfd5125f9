import { expect, test } from "vitest";

import { amount, brief, duration, readList, readMm, show, ticks } from "./number";

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

test.each([
  [20828.15, "5 h 47 min"],
  [3600, "1 h 00 min"],
  [3599, "1 h 00 min"],
  [185, "3 min 05 s"],
  [60, "1 min 00 s"],
  [59.97, "1 min 00 s"],
  [12, "12 s"],
  [0.5, "0.5 s"],
])("%f s is %s", (s, said) => {
  expect(duration(s)).toBe(said);
});

test("amounts carry their unit as people write it", () => {
  expect(amount(-8, "mm")).toBe("\u22128\u00a0mm");
  expect(amount(20828.15, "s")).toBe("5 h 47 min");
  expect(amount(36.04, "degC", 1)).toBe("36\u00a0°C");
  expect(amount(7.2, "cm2")).toBe("7.2\u00a0cm²");
  expect(amount(3, "")).toBe("3");
  expect(amount(1, "bridging plates")).toBe("1 bridging plate");
  expect(amount(2, "bridging plates")).toBe("2 bridging plates");
  expect(amount(1, "kinds of filament")).toBe("1 kind of filament");
  expect(amount(1, "feet")).toBe("1\u00a0foot");
  expect(amount(1, "holes")).toBe("1\u00a0hole");
  expect(amount(1, "mm per side")).toBe("1 mm per side");
  expect(amount(2.15, "N / m")).toBe("2.15\u00a0N\u00a0/\u00a0m");
  expect(amount(2, "pieces of it")).toBe("2 pieces of it");
});

test.each([
  [10, [2, 4, 6, 8, 10]],
  [6.4, [1, 2, 3, 4, 5, 6]],
  [0.34, [0.1, 0.2, 0.3]],
  [1300, [500, 1000]],
  [0, []],
  [NaN, []],
])("an axis up to %f is marked at %j", (most, at) => {
  expect(ticks(most)).toEqual(at);
});

test.each([
  ["", []],
  [" 2, 5.5;  8 mm ", [2, 5.5, 8]],
  ["8 5 5", [5, 8]],
  ["0,6", [0.6]],
  ["0,4, 0,6", [0.4, 0.6]],
  ["1/2in 1", [1, 12.7]],
  ["5, abc, 8", "abc"],
  ["2,5,8", "2.5.8"],
])("the list %j is read as %j", (text, read) => {
  expect(readList(text)).toEqual(read);
});
