import type { Edit } from "../../api/client";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import type { Mark } from "./mark";

/** Aligning and spacing of several openings on one face. */
export function AlignBar({
  marks,
  move,
  act,
}: {
  marks: Mark[];
  move: (m: Mark, du: number, dv: number) => Edit | null;
  act: SheetProps["act"];
}) {
  const face = marks[0]!.o.face;
  const same = marks.every((m) => m.o.face === face);
  const lead = marks[0]!;
  const to = (said: string, shift: (m: Mark) => [number, number]) => {
    const edits = marks.map((m) => move(m, ...shift(m))).filter((e) => e !== null);
    void act.edit(edits, said);
  };
  const space = () => {
    const row = [...marks].sort((a, b) => a.o.at_mm[0] - b.o.at_mm[0]);
    const [a, b] = [row[0]!.o.at_mm[0], row.at(-1)!.o.at_mm[0]];
    const edits = row
      .map((m, i) => move(m, a + ((b - a) * i) / (row.length - 1) - m.o.at_mm[0], 0))
      .filter((e) => e !== null);
    void act.edit(edits, "space openings evenly");
  };
  return (
    <div
      role="group"
      aria-label="Align the chosen openings"
      className="settle absolute top-3 left-1/2 z-30 flex -translate-x-1/2 items-center gap-2 rounded-[4px] border border-rule bg-leaf px-3 py-2 shadow-[0_6px_24px_rgb(35_27_46/0.14)]"
    >
      <span className="text-soft">{marks.length} chosen</span>
      {same ? (
        <>
          <Button
            onClick={() => {
              to("align middles", (m) => [0, lead.o.at_mm[1] - m.o.at_mm[1]]);
            }}
          >
            Middles in line
          </Button>
          <Button
            onClick={() => {
              to("align lower edges", (m) => [
                0,
                lead.o.at_mm[1] - lead.o.size_mm[1] / 2 - (m.o.at_mm[1] - m.o.size_mm[1] / 2),
              ]);
            }}
          >
            Lower edges in line
          </Button>
          <Button
            onClick={() => {
              to("one above the other", (m) => [lead.o.at_mm[0] - m.o.at_mm[0], 0]);
            }}
          >
            One above the other
          </Button>
          {marks.length > 2 && <Button onClick={space}>Space evenly</Button>}
        </>
      ) : (
        <span>They are on different faces; choose openings of one face to align them.</span>
      )}
    </div>
  );
}
