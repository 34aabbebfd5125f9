import { expect, test } from "vitest";

import type { Finding } from "../api/schema";
import { merged } from "./useConcerns";

const finding = (key: string, title: string, ...labels: string[]) =>
  ({ key, title, remedies: labels.map((label) => ({ label, edits: [], shop: [] })) }) as unknown as Finding;

test("remedies that were found since take their place, and what was told by the state alone stays", () => {
  const told = [
    finding("a", "A now"),
    finding("shown", "A picture is missing", "direct"),
    finding("b", "B now", "direct"),
  ];
  const whole = [
    finding("b", "B now", "found", "direct"),
    finding("a", "A now", "way"),
    finding("rule-broke:x", "X could not look"),
  ];
  expect(merged(told, whole, true)).toEqual([
    finding("a", "A now", "way"),
    finding("shown", "A picture is missing", "direct"),
    finding("b", "B now", "found", "direct"),
    finding("rule-broke:x", "X could not look"),
  ]);
});

test("until they are there, a concern has the remedies it had, beside its numbers of now", () => {
  const told = [finding("a", "A now"), finding("new", "New", "direct")];
  const before = [finding("a", "A before", "way"), finding("gone", "Gone", "x")];
  expect(merged(told, before, false)).toEqual([finding("a", "A now", "way"), finding("new", "New")]);
});
