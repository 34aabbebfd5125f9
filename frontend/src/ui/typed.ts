import { createContext, useContext, useEffect, useRef } from "react";

/** Told what a hand has typed, or points at, before it gives it: what giving it would do, that it is given, or that there is nothing any more. */
export interface Typed {
  ask: (give: () => void) => void;
  rest: () => void;
  drop: () => void;
}

export const Typed = createContext<Typed | null>(null);

/** How long a hand that types pauses before it is looked at what it has: shorter, and every digit of a number is. */
const PAUSE_MS = 250;

/** What a hand is about to give, told once it pauses. `on`: giving it is an edit of the design and nothing else. */
export function useTyped(on: boolean, pause_ms = PAUSE_MS) {
  const told = useContext(Typed);
  const wait = useRef<ReturnType<typeof setTimeout>>(undefined);
  const asked = useRef<Typed | null>(null);
  const end = (how: "rest" | "drop") => {
    clearTimeout(wait.current);
    asked.current?.[how]();
    asked.current = null;
  };
  // a field that goes while something is typed into it takes that along
  useEffect(() => () => end("drop"), []);
  return {
    /** `give`: what giving it would do; nothing where it would change nothing. */
    type: (give: (() => void) | null) => {
      if (!on || !told) return;
      clearTimeout(wait.current);
      wait.current = setTimeout(() => {
        if (give) {
          asked.current = told;
          told.ask(give);
        } else end("drop");
      }, pause_ms);
    },
    given: () => {
      end("rest");
    },
    drop: () => {
      end("drop");
    },
  };
}
