import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";

import { api } from "../api/client";
import type { Finding, StateOut } from "../api/schema";

const numbers = new WeakMap<StateOut, number>();
let last = 0;

/** A number of its own for each state: its version does not tell, since the workshop may have changed under the same one. */
function numberOf(state: StateOut): number {
  const known = numbers.get(state);
  if (known) return known;
  last += 1;
  numbers.set(state, last);
  return last;
}

/** Concerns of a design with their remedies. Those that take a search come after the state: until then (`looked` "not yet") a concern has those that it had
 * last. */
export function useConcerns(state: StateOut) {
  const { remedies_known: known, concerns: told } = state.view;
  const { data, isPlaceholderData, isError } = useQuery({
    queryKey: ["concerns", state.id, numberOf(state)],
    enabled: !known,
    staleTime: Infinity,
    gcTime: 0,
    initialData: known ? told : undefined,
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      const { data } = await api.GET("/api/designs/{id}/concerns", {
        params: { path: { id: state.id } },
        signal,
      });
      if (data?.version !== state.version) throw new Error("it has been changed meanwhile");
      return data.concerns;
    },
  });
  const looked = data && !isPlaceholderData ? "done" : isError ? "failed" : "not yet";
  const concerns = useMemo(() => merged(told, data ?? [], looked === "done"), [told, data, looked]);
  return { concerns, looked } as const;
}

/** What a state says, with the remedies found since, or, of `whole` that was said of another state, with those that it had. A rule that broke over its search
 * comes last. */
export function merged(told: readonly Finding[], whole: readonly Finding[], current: boolean): Finding[] {
  const of = new Map(whole.map((w) => [w.key, w]));
  if (!current) return told.map((c) => ({ ...c, remedies: of.get(c.key)?.remedies ?? [] }));
  return [...told.map((c) => of.get(c.key) ?? c), ...whole.filter((w) => !told.some((c) => c.key === w.key))];
}
