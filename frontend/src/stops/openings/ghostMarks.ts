import type { Edit } from "../../api/client";
import type { StateOut, ThingOut } from "../../api/schema";

/** A rectangle on a face where a remedy would put an opening, mm; `corner`: how round it is; `id`: what it would be in place of. */
export interface GhostMark {
  id?: string;
  face: string;
  at: readonly [number, number];
  size: readonly [number, number];
  corner?: number;
}

type Openings = Pick<StateOut["view"]["openings"], "openings" | "vents" | "texts">;
type Faces = StateOut["view"]["case"]["faces"];

/** What a remedy would do to the openings, before it is pressed. */
export function ghostMarks(
  edits: readonly Edit[],
  openings: StateOut["view"]["openings"],
  faces: Faces,
  things: readonly Pick<ThingOut, "id" | "at_mm">[],
): GhostMark[] {
  const out: GhostMark[] = [];
  const marks = [...openings.openings, ...openings.vents, ...openings.texts];
  for (const e of edits.flatMap((e) => (e.do === "together" ? e.edits : [e]))) {
    if (e.do === "move-on-face")
      for (const m of marks.filter((m) => m.id === e.what || ownerOf(m) === e.what))
        out.push({ face: m.face, at: [m.at_mm[0] + e.by_mm[0], m.at_mm[1] + e.by_mm[1]], size: m.size_mm });
    if (e.do === "put-vent" && e.vent.on === null) {
      const inset = faces.find((f) => f.id === e.vent.face)?.inset_mm ?? [0, 0];
      const at: [number, number] = [e.vent.at_mm[0] + inset[0], e.vent.at_mm[1] + inset[1]];
      out.push({ face: e.vent.face, at, size: e.vent.size_mm });
    }
    if (e.do === "move") {
      const at = things.find((t) => t.id === e.id)?.at_mm;
      if (!at) continue;
      const by = ([0, 1, 2] as const).map((i) => (e.to_mm[i] ?? at[i]) - at[i]);
      for (const m of marks.filter((m) => ownerOf(m) === e.id)) {
        const frame = faces.find((f) => f.id === m.face)?.frame;
        if (!frame) continue;
        const along = (axis: readonly number[]) => axis.reduce((s, v, i) => s + v * (by[i] ?? 0), 0);
        out.push({
          face: m.face,
          at: [m.at_mm[0] + along(frame[1]), m.at_mm[1] + along(frame[2])],
          size: m.size_mm,
        });
      }
    }
  }
  return out;
}

/** What would be cut otherwise in a design that was looked at, as it would be cut. */
export function changedMarks(now: Openings, there: Openings): GhostMark[] {
  const before = drawnOf(now);
  return [...drawnOf(there)].flatMap(([id, m]) =>
    JSON.stringify(before.get(id)) === JSON.stringify(m) ? [] : [m],
  );
}

function drawnOf({ openings, vents, texts }: Openings): Map<string, GhostMark> {
  return new Map(
    [...openings, ...vents, ...texts].map((m) => {
      const corner = "round" in m ? (m.round ? Math.max(...m.size_mm) / 2 : m.corner_mm) : 0;
      return [m.id, { id: m.id, face: m.face, at: m.at_mm, size: m.size_mm, corner }];
    }),
  );
}

function ownerOf(
  m:
    | StateOut["view"]["openings"]["openings"][number]
    | StateOut["view"]["openings"]["vents"][number]
    | StateOut["view"]["openings"]["texts"][number],
) {
  if ("text" in m) return null;
  return "fan" in m ? m.fan : m.of;
}
