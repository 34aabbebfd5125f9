import { useQuery } from "@tanstack/react-query";

import { api } from "../api/client";
import type { Effect, Remedy, StateOut } from "../api/schema";
import { show } from "../ui/number";

/** What edits would do to a design, tried beside it; of a concern, by its key, also whether it goes. */
export function useEffectOf(state: StateOut, key: string, tried: Pick<Remedy, "label" | "edits" | "shop">) {
  return useQuery({
    queryKey: ["effect", state.id, state.version, key, tried.label],
    staleTime: Infinity,
    queryFn: async ({ signal }) => {
      // once the hand has been still for a moment: what is tried for a design that has changed since is tried for nothing
      await new Promise((done) => setTimeout(done, 300));
      signal.throwIfAborted();
      const { data } = await api.POST("/api/designs/{id}/effect", {
        params: { path: { id: state.id } },
        body: { key, edits: tried.edits, shop: tried.shop },
        signal,
      });
      if (!data) throw new Error("not tried");
      return data;
    },
  });
}

/** What moves in the tally, in words. */
export const moves = (effect: Effect) =>
  effect.tally.map((t) => {
    const by = t.after - t.before;
    return `${t.label.toLowerCase()} ${by > 0 ? "+" : ""}${show(by, t.digits)}${t.unit ? ` ${t.unit === "degC" ? "K" : t.unit}` : ""}`;
  });
