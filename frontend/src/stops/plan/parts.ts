export { duration as hours, duration as minutes } from "../../ui/number";

export const FILAMENTS = (["PLA", "PETG", "ABS", "ASA", "PC", "PA-CF", "PETG-CF", "TPU"] as const).map(
  (f) => ({
    value: f,
    label: f,
  }),
);
