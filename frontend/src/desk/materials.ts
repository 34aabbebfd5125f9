/** What sheet is bought of. */
export const MATERIALS = [
  { value: "acrylic", label: "acrylic" },
  { value: "plywood", label: "plywood" },
  { value: "aluminium", label: "aluminium" },
  { value: "glass", label: "glass" },
  { value: "mesh", label: "mesh" },
] as const;
