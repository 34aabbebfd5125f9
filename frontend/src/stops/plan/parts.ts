import { brief } from "../../ui/number";

/** Hours and minutes. */
export function hours(s: number): string {
  const m = Math.round(s / 60);
  return `${Math.floor(m / 60)} h ${String(m % 60).padStart(2, "0")}`;
}

/** Minutes and seconds for what is short. */
export function minutes(s: number): string {
  if (s >= 3600) return hours(s);
  return s >= 60
    ? `${Math.floor(s / 60)} min ${String(Math.round(s % 60)).padStart(2, "0")}`
    : `${brief(s, 1)} s`;
}

export const FILAMENTS = (["PLA", "PETG", "ABS", "ASA", "PC", "PA-CF", "PETG-CF", "TPU"] as const).map(
  (f) => ({
    value: f,
    label: f,
  }),
);
