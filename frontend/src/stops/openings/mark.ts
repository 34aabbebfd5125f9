import type { Opening, Vent } from "../../api/schema";

/** What is drawn on a face and can be chosen there. */
export type Mark = { kind: "opening"; o: Opening } | { kind: "vent"; o: Vent };
