import { useQuery } from "@tanstack/react-query";

import { useEffect, useState } from "react";

import { api } from "../../api/client";
import type { SettingEffect, StateOut } from "../../api/schema";

const STILL_MS = 1500;

/** What a step of each printing setting would change: asked once the hours are settled and the hand is still, so that it delays neither. */
export function useEffects(state: StateOut, part?: string) {
  const settled =
    state.view.pieces.length > 0 && state.view.pieces.every((p) => p.estimate?.level !== "preview");
  const id = state.id;
  const at = `${id} ${state.version}`;
  const [still, setStill] = useState("");
  useEffect(() => {
    if (!settled) return;
    const wait = setTimeout(() => {
      setStill(at);
    }, STILL_MS);
    return () => {
      clearTimeout(wait);
    };
  }, [settled, at]);
  return useQuery<readonly SettingEffect[]>({
    queryKey: ["effects", id, state.version, part],
    enabled: settled && still === at,
    placeholderData: (before) => before,
    queryFn: async ({ signal }) => {
      const { data } = part
        ? await api.GET("/api/designs/{id}/effects/{part}", { params: { path: { id, part } }, signal })
        : await api.GET("/api/designs/{id}/effects", { params: { path: { id } }, signal });
      return data?.effects ?? [];
    },
  }).data;
}
