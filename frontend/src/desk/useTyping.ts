import { useEffect, useMemo, useRef } from "react";

import type { StateOut } from "../api/schema";
import type { Typed } from "../ui/typed";
import { meant, useUi } from "./desk";
import { tryEdits } from "./tryEdit";
import { useTried } from "./useTried";

/** What a number that is being typed would make of the design: asked for as what a hand holds is, and drawn on the sheet as what a remedy
 * would do. Giving it is answered from that look. */
export function useTyping(state: StateOut | undefined): Typed {
  const { ask, rest, drop } = useTried(state?.id ?? "", state?.version, tryEdits);
  const asked = useRef(false);
  const typed = useMemo(() => {
    const off = () => {
      if (!asked.current) return;
      asked.current = false;
      useUi.setState({ ghost: [], looked: [] });
      drop();
    };
    return {
      ask: (give: () => void) => {
        const edits = meant(give);
        if (!edits.length) {
          off();
          return;
        }
        asked.current = true;
        useUi.setState({ ghost: edits, looked: edits });
        void ask(edits);
      },
      rest: () => {
        useUi.setState({ ghost: [] });
        rest();
      },
      drop: off,
    };
  }, [ask, rest, drop]);
  // given, and answered or refused: what is shown is the design again
  const busy = useUi((s) => s.busy > 0);
  useEffect(() => {
    if (!busy) typed.drop();
  }, [busy, typed]);
  useEffect(() => typed.drop, [typed, state?.version]);
  return typed;
}
