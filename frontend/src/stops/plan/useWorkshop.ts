import { useQuery, useQueryClient } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { Printer, WorkshopOut } from "../../api/schema";

const KEY = ["workshop"];

export function useWorkshop() {
  return useQuery({
    queryKey: KEY,
    queryFn: async () => (await api.GET("/api/workshop")).data as WorkshopOut,
  });
}

/** Change one printer of the workshop as it stands now; says whether it was taken. */
export function useChangePrinter() {
  const client = useQueryClient();
  return async (key: string, change: (p: Printer) => Printer): Promise<boolean> => {
    const { data: now } = await api.GET("/api/workshop");
    if (!now) return false;
    const workshop = {
      ...now.workshop,
      printers: now.workshop.printers.map((p) => (p.key === key ? change(p as Printer) : p)),
    };
    const { data, error } = await api.POST("/api/workshop", {
      body: { base_version: now.version, workshop } as never,
    });
    if (data) {
      client.setQueryData(KEY, data);
      void client.invalidateQueries({ queryKey: ["design"] });
    }
    return error === undefined;
  };
}
