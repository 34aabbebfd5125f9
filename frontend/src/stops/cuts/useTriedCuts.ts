import { useEffect, useMemo, useRef, useState } from "react";

import { api, type Edit } from "../../api/client";
import type { PartOverBed, TriedCuts } from "../../api/schema";

type Put = Extract<Edit, { do: "put-cuts" }>;

/** What a part would be with a cut where the hand has it: one question at a time, the next about the newest place. It is shown until the part itself
 * is told anew. */
export function useTriedCuts(id: string, part: PartOverBed) {
  const [tried, setTried] = useState<TriedCuts | null>(null);
  const wanted = useRef<Put | null>(null);
  const asking = useRef(false);
  const turn = useRef(0); // answers to what was asked before it went up come too late
  const hand = useMemo(() => {
    /** The hand has moved on. */
    const ask = async (edit: Put) => {
      wanted.current = edit;
      if (asking.current) return;
      asking.current = true;
      try {
        while (wanted.current) {
          const mine = turn.current;
          const body = { edit: wanted.current };
          wanted.current = null;
          const { data } = await api.POST("/api/designs/{id}/cuts/tried", { params: { path: { id } }, body });
          if (turn.current === mine) setTried(data ?? null); // one that is refused there has nothing to show
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
      setTried(null);
    };
    return { ask, rest, drop };
  }, [id]);
  useEffect(() => hand.drop, [hand, part]);
  return { tried, ...hand };
}
