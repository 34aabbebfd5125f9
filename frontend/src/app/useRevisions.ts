import { useInfiniteQuery } from "@tanstack/react-query";

import { api } from "../api/client";

/** The revisions of a design, newest first, older ones as they are asked for. */
export function useRevisions(id: string, version: number) {
  const pages = useInfiniteQuery({
    queryKey: ["steps", id, version],
    initialPageParam: undefined as number | undefined,
    queryFn: async ({ pageParam }) => {
      const { data } = await api.GET("/api/designs/{id}/revisions", {
        params: { path: { id }, query: pageParam === undefined ? {} : { before: pageParam } },
      });
      return data ?? { steps: [], more: false };
    },
    getNextPageParam: (last) => (last.more ? last.steps.at(-1)?.number : undefined),
  });
  return {
    rows: pages.data?.pages.flatMap((p) => p.steps) ?? [],
    more: pages.hasNextPage,
    older: () => void pages.fetchNextPage(),
  };
}
