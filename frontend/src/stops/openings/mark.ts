import type { Edit } from "../../api/client";
import type { Lettered, Opening, StateOut, Vent } from "../../api/schema";

/** What is drawn on a face and can be chosen there. */
export type Mark =
  { kind: "opening"; o: Opening } | { kind: "vent"; o: Vent } | { kind: "text"; o: Lettered };

/** Two numbers, one of them changed. */
export function withOne([a, b]: readonly [number, number], i: number, v: number): [number, number] {
  return i === 0 ? [v, b] : [a, v];
}

/** An opening, a field of vents or a text as a state shows it. */
export function shownAt(now: StateOut, id: string): Opening | Vent | Lettered | undefined {
  const { openings, vents, texts } = now.view.openings;
  return (
    openings.find((o) => o.id === id) ?? vents.find((v) => v.id === id) ?? texts.find((t) => t.id === id)
  );
}

/** The edit that brings one coordinate of what is on a face to a number, whatever else was changed a moment ago. */
export function moveTo(now: StateOut, id: string, i: number, to: number): Edit[] {
  const o = shownAt(now, id);
  if (!o) return [];
  return [{ do: "move-on-face", what: id, by_mm: withOne([0, 0], i, to - o.at_mm[i]!) }];
}
