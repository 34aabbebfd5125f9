import { useEffect, useMemo, useRef, useState } from "react";

import type { StateOut } from "../api/schema";
import { useUi } from "./desk";

/** What a design would be with a thing where the hand has it: one question at a time, the next about the newest place. It is told to the
 * whole workroom (`useHeld`) and to whoever asks, until something is told anew. */
export function useTried<E, T extends { there: StateOut }>(
  id: string,
  until: unknown,
  question: (id: string, edit: E) => Promise<T | undefined>,
) {
  const [tried, setTried] = useState<T | null>(null);
  const wanted = useRef<E | null>(null);
  const asking = useRef(false);
  const turn = useRef(0); // answers to what was asked before it went up come too late
  const hand = useMemo(() => {
    const show = (there: T | null) => {
      setTried(there);
      useUi.setState({ held: there?.there ?? null });
    };
    /** The hand has moved on. */
    const ask = async (edit: E) => {
      wanted.current = edit;
      if (asking.current) return;
      asking.current = true;
      try {
        while (wanted.current) {
          const mine = turn.current;
          const next = wanted.current;
          wanted.current = null;
          const there = await question(id, next);
          if (turn.current === mine) show(there ?? null); // one that is refused there has nothing to show
        }
      } catch {
        wanted.current = null; // letting go asks again, and says what is wrong
      } finally {
        asking.current = false;
      }
    };
    /** It has let go: what is shown stays until the answer is there. */
    const rest = () => {
      turn.current += 1;
      wanted.current = null;
    };
    const drop = () => {
      rest();
      show(null);
    };
    return { ask, rest, drop };
  }, [id, question]);
  useEffect(() => hand.drop, [hand, until]);
  return { tried, ...hand };
}

/** A design as it would be, let go where a hand has something; null where no hand holds anything. */
export function useHeld(state: StateOut): StateOut | null {
  const held = useUi((s) => s.held);
  return held?.id === state.id && held.version === state.version ? held : null;
}
