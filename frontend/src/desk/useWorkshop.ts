import { useQuery } from "@tanstack/react-query";

import { api } from "../api/client";

export function useWorkshop() {
  return useQuery({
    queryKey: ["workshop"],
    queryFn: async () => (await api.GET("/api/workshop")).data,
  });
}
