import type { Finding } from "../api/schema";

export const STOPS = [
  { key: "brief", label: "Brief", letter: "b" },
  { key: "parts", label: "Parts", letter: "p" },
  { key: "bench", label: "Bench", letter: "n" },
  { key: "shell", label: "Shell", letter: "s" },
  { key: "openings", label: "Openings", letter: "o" },
  { key: "cuts", label: "Cuts", letter: "u" },
  { key: "hardware", label: "Hardware", letter: "h" },
  { key: "plan", label: "Print plan", letter: "l" },
] as const;

export type StopKey = (typeof STOPS)[number]["key"];

// Rules of stops that have no sheet yet are shown where their subject is drawn.
const SHOWN_AT: Partial<Record<Finding["stop"], StopKey>> = {
  air: "openings",
  process: "plan",
};

export function shownAt(stop: Finding["stop"]): StopKey {
  return SHOWN_AT[stop] ?? (stop as StopKey);
}
