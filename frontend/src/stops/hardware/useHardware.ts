import { useQuery } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { HardwareTable, StateOut } from "../../api/schema";
import { useWorkshop } from "../../desk/useWorkshop";

/** Every joint of the design as it stands; the last answer is shown until the next is there. */
export function useHardware(state: StateOut) {
  const stock = useWorkshop().data?.version;
  return useQuery<HardwareTable>({
    queryKey: ["hardware", state.id, state.version, stock],
    placeholderData: (before) => before,
    queryFn: async ({ signal }) => {
      const path = { id: state.id };
      const { data } = await api.GET("/api/designs/{id}/hardware", { params: { path }, signal });
      if (!data) throw new Error("the table of joints did not come");
      return data;
    },
  });
}
