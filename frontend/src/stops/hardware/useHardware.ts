import { useQuery } from "@tanstack/react-query";

import { api, type Edit } from "../../api/client";
import type { HardwareTable, StateOut } from "../../api/schema";
import { useUi } from "../../desk/desk";
import { useHeld } from "../../desk/useTried";
import { useWorkshop } from "../../desk/useWorkshop";

/** Every joint of the design as it stands, and with what is typed or pointed at; the last answer is shown until the next is there. */
export function useHardware(state: StateOut) {
  const looked = useUi((s) => s.looked);
  const held = useHeld(state) !== null;
  const now = useTable(state, []);
  const there = useTable(state, held ? looked : []);
  return { table: now.data, there: there.data ?? now.data, isError: now.isError };
}

function useTable(state: StateOut, edits: readonly Edit[]) {
  const stock = useWorkshop().data?.version;
  return useQuery<HardwareTable>({
    queryKey: ["hardware", state.id, state.version, stock, edits],
    placeholderData: (before) => before,
    queryFn: async ({ signal }) => {
      const params = { path: { id: state.id } };
      const { data } = edits.length
        ? await api.POST("/api/designs/{id}/hardware/tried", { params, body: { edits: [...edits] }, signal })
        : await api.GET("/api/designs/{id}/hardware", { params, signal });
      if (!data) throw new Error("the table of joints did not come");
      return data;
    },
  });
}
