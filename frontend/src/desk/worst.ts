import type { Finding, StateOut } from "../api/schema";

/** The gravest open concern about a thing, by its severity; null where there is none. */
export function worst(state: StateOut, subject: string): Finding["severity"] | null {
  return (
    state.view.concerns.find((c) => c.severity !== "advice" && c.subjects.includes(subject))?.severity ?? null
  );
}

/** The gravest concern about a thing as its label tells it. */
export function heard(gravest: Finding["severity"] | null): string {
  return gravest === "stop" ? ", with a stop" : gravest === "weigh" ? ", with something to weigh" : "";
}
