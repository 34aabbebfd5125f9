import type { Feature, Notebook, Reading } from "../../api/schema";

export type Row = Reading & { value: string };
export type Book = Omit<Notebook, "readings" | "features"> & {
  name: string;
  unit: "mm" | "in";
  features: Feature[];
  readings: Row[];
};

const KEPT = "rhombex.notebook";

const feature = (
  name: string,
  kind: Feature["kind"],
  axis: "x" | "y" | null = null,
  at_mm: number | null = null,
): Feature => ({
  name,
  kind,
  axis,
  at_mm,
  near_mm: null,
  like: null,
});

export const reading = (
  id: string,
  how: Row["how"],
  of: readonly string[],
  along: Row["along"] = "x",
): Row => ({
  id,
  how,
  of: [...of],
  along,
  value: "",
  sure_mm: null,
});

/** A board of four edges and four holes, with the readings that a careful person begins with. */
export function emptyBook(): Book {
  const holes = ["A", "B", "C", "D"];
  const rows: Row[] = [
    reading("1", "edges", ["left", "right"]),
    reading("2", "edges", ["front", "back"], "y"),
  ];
  const add = (how: Row["how"], of: readonly string[], along: Row["along"] = "x") => {
    rows.push(reading(String(rows.length + 1), how, of, along));
  };
  for (const h of holes) add("diameter", [h]);
  add("inside", ["left", "A"]);
  add("inside", ["front", "A"], "y");
  add("outside", ["A", "B"]);
  add("inside", ["A", "B"]);
  add("inside", ["front", "B"], "y");
  add("outside", ["A", "C"], "y");
  add("inside", ["A", "C"], "y");
  add("inside", ["left", "C"]);
  add("outside", ["C", "D"]);
  add("outside", ["B", "D"], "y");
  return {
    name: "My board",
    unit: "mm",
    features: [
      feature("left", "edge", "x", 0),
      feature("right", "edge", "x"),
      feature("front", "edge", "y", 0),
      feature("back", "edge", "y"),
      ...holes.map((h) => feature(h, "hole")),
      feature("floor", "level", null, 0),
      feature("board", "level"),
      feature("stack", "level"),
      feature("under", "level"),
    ],
    readings: rows,
  };
}

/** The notebook as it was left in this browser. */
export function keptBook(): Book {
  try {
    const text = localStorage.getItem(KEPT);
    if (text) return JSON.parse(text) as Book;
  } catch {
    // a notebook that cannot be read is begun anew
  }
  return emptyBook();
}

export function keepBook(book: Book): void {
  try {
    localStorage.setItem(KEPT, JSON.stringify(book));
  } catch {
    // private windows keep nothing; the readings stay on the sheet
  }
}

export const HOW: Record<Row["how"], string> = {
  outside: "outside to outside",
  inside: "inside to inside",
  edges: "edge to edge",
  centres: "centre to centre",
  diameter: "diameter",
  depth: "depth",
};
