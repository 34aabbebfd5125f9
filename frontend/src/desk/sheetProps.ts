import type { StateOut } from "../api/schema";
import type { useDo } from "./desk";

/** What the sheet of a stop is given: the design as it stands, and what can be done to it. */
export interface SheetProps {
  state: StateOut;
  act: ReturnType<typeof useDo>;
}
