import { useQuery } from "@tanstack/react-query";

import { api } from "../api/client";
import type { WorkshopOut } from "../api/schema";

export function useWorkshop() {
  return useQuery({
    queryKey: ["workshop"],
    queryFn: async () => (await api.GET("/api/workshop")).data as WorkshopOut,
  });
}
