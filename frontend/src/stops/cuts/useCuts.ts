import { useQuery } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { CutsTable, StateOut } from "../../api/schema";

/** Every part of the design over its bed; the last answer is shown until the next is there. */
export function useCuts(state: StateOut) {
  return useQuery<CutsTable>({
    queryKey: ["cuts", state.id, state.version],
    placeholderData: (before) => before,
    queryFn: async ({ signal }) => {
      const path = { id: state.id };
      const { data } = await api.GET("/api/designs/{id}/cuts", { params: { path }, signal });
      if (!data) throw new Error("the parts did not come");
      return data;
    },
  });
}
