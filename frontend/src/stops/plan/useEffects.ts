import { useQuery } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { SettingEffect, StateOut } from "../../api/schema";

/** What a step of each printing setting would change: asked once the hours are settled, so that it never delays them. */
export function useEffects(state: StateOut, part?: string) {
  const settled =
    state.view.pieces.length > 0 && state.view.pieces.every((p) => p.estimate?.level !== "preview");
  const id = state.id;
  return useQuery<readonly SettingEffect[]>({
    queryKey: ["effects", id, state.version, part],
    enabled: settled,
    placeholderData: (before) => before,
    queryFn: async ({ signal }) => {
      const { data } = part
        ? await api.GET("/api/designs/{id}/effects/{part}", { params: { path: { id, part } }, signal })
        : await api.GET("/api/designs/{id}/effects", { params: { path: { id } }, signal });
      return data?.effects ?? [];
    },
  }).data;
}
