import { useQuery, useQueryClient } from "@tanstack/react-query";

import { api, complaint } from "../api/client";
import type { JobOut, StartIn } from "../api/schema";

export type Result<K extends NonNullable<JobOut["result"]>["kind"]> = Extract<
  NonNullable<JobOut["result"]>,
  { kind: K }
>;

export const busy = (j: JobOut | undefined) => j?.state === "waiting" || j?.state === "running";

/** Long work that a view shows: started when it is first looked at, asked for until it ends, stoppable. `key` tells it from other
 * work; with a job that was started elsewhere it is only watched, with null nothing is done. */
export function useJob(key: readonly unknown[], ask: StartIn["ask"] | JobOut | null) {
  const client = useQueryClient();
  const whole = ["job", ...key];
  const q = useQuery({
    queryKey: whole,
    enabled: ask !== null,
    staleTime: Infinity,
    queryFn: async ({ client: c }) => {
      const known = c.getQueryData<JobOut>(whole) ?? (ask && "id" in ask ? ask : null);
      const { data, error } =
        known || !ask || "id" in ask
          ? await api.GET("/api/jobs/{job}", { params: { path: { job: known?.id ?? "" } } })
          : await api.POST("/api/jobs", { body: { ask } });
      if (!data) throw new Error(complaint(error).message);
      return data;
    },
    refetchInterval: (r) => (busy(r.state.data) ? 300 : false),
  });
  return {
    job: q.data,
    lost: q.isError ? q.error.message : "",
    stop: async () => {
      if (!q.data) return;
      const { data } = await api.POST("/api/jobs/{job}/stop", { params: { path: { job: q.data.id } } });
      if (data) client.setQueryData(whole, data);
    },
    again: () => void client.resetQueries({ queryKey: whole }),
  };
}
