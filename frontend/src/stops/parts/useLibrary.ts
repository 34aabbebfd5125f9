import { useQuery, useQueryClient } from "@tanstack/react-query";

import { api, complaint } from "../../api/client";
import type { Component, ErrorBody } from "../../api/schema";

const KEY = ["library"];

/** Every component at hand, the workshop's own first. */
export function useLibrary() {
  return useQuery({
    queryKey: KEY,
    staleTime: Infinity,
    queryFn: async () => (await api.GET("/api/library")).data,
  });
}

/** Keep an own component in the workshop, or take it out; answers what went wrong, null where nothing did. */
export function useOwnComponents() {
  const client = useQueryClient();
  return {
    keep: async (component: Component): Promise<ErrorBody | null> => {
      const { data, error } = await api.POST("/api/library/own", { body: { component } });
      if (data) client.setQueryData(KEY, data);
      return data ? null : complaint(error);
    },
    drop: async (key: string): Promise<ErrorBody | null> => {
      const { data, error } = await api.DELETE("/api/library/own/{key}", { params: { path: { key } } });
      if (data) client.setQueryData(KEY, data);
      return data ? null : complaint(error);
    },
  };
}
