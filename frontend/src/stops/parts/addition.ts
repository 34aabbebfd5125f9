import type { Edit } from "../../api/client";
import type { Component, StateOut } from "../../api/schema";

/** A free name for another thing of a family. */
function freeId(state: StateOut, family: string): string {
  const stem = family.replace(/[^a-z0-9]+/gi, "-").toLowerCase();
  const taken = new Set(state.design.placements.map((p) => p.id));
  if (!taken.has(stem)) return stem;
  let n = 2;
  while (taken.has(`${stem}-${n}`)) n++;
  return `${stem}-${n}`;
}

/** The edit that puts a component on the bench: beside what is there, on a wall, or on the first board. */
export function additionOf(state: StateOut, c: Component, own = false): Edit {
  const id = freeId(state, c.family);
  const [w, d, h] = state.design.shell.inner_mm as [number, number, number];
  const board = state.design.placements.find(
    (p) => state.view.things.find((t) => t.id === p.id)?.family === "board",
  );
  // the drawer's families name a thing well enough; of an own part only its label says what it is
  const name =
    c.family === "own part" ? c.label.slice(0, 60) : id[0]!.toUpperCase() + id.slice(1).replaceAll("-", " ");
  const rides = c.mounting === "rides" ? board : undefined;
  const face = c.mounting === "panel" ? (c.air ? ("top" as const) : ("front" as const)) : null;
  const at_mm: [number, number, number] = rides
    ? [rides.at_mm[0], rides.at_mm[1], rides.at_mm[2] + 4.2]
    : face
      ? [w / 2, d / 2, h / 2]
      : [w / 2, d / 2, 6];
  return {
    do: "add",
    placement: { id, component: c.key, name, at_mm, turn: 0, face, on: rides?.id ?? null, stand: null },
    custom: own ? c : null,
  };
}
