import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";
import { create } from "zustand";

import { api, complaint, type Edit } from "../api/client";
import type { ConflictOut, ErrorBody, ErrorOut, Remedy, StateOut } from "../api/schema";

interface Conflict {
  edits: Edit[];
  said: string;
}

interface Ui {
  selected: string[];
  conflict: Conflict | null;
  notice: ErrorBody | null;
  busy: number;
  /** Edits that a hand hovers over: sheets draw what they would do. */
  ghost: readonly Edit[];
  /** The design as it would be, let go where a hand has something just now. */
  held: StateOut | null;
  /** The edits that are typed or pointed at, from when they are looked at until they are answered or let go. */
  looked: readonly Edit[];
  /** Concerns just mended, kept for a moment so that they can be seen going. */
  mended: string[];
  select: (ids: string[]) => void;
  set: (patch: Partial<Ui>) => void;
}

/** What is selected and said in this window; nothing of the design. */
export const useUi = create<Ui>((set) => ({
  selected: [],
  conflict: null,
  notice: null,
  busy: 0,
  ghost: [],
  held: null,
  looked: [],
  mended: [],
  select: (selected) => {
    set({ selected });
  },
  set,
}));

const key = (id: string) => ["design", id];

/** The design as it stands, from the server. */
export function useDesign(id: string) {
  return useQuery({
    queryKey: key(id),
    queryFn: async () => {
      const { data, error } = await api.GET("/api/designs/{id}", { params: { path: { id } } });
      if (!data) throw new Refused(complaint(error));
      return data;
    },
  });
}

/** What the server refused, whole. */
export class Refused extends Error {
  body: ErrorBody;
  constructor(body: ErrorBody) {
    super(body.message);
    this.body = body;
  }
}

/** Whether another window has changed the design since this one last looked. */
export function useElsewhere(state: StateOut | undefined) {
  const client = useQueryClient();
  const busy = useUi((s) => s.busy);
  const now = useQuery({
    queryKey: ["version", state?.id],
    enabled: state !== undefined,
    refetchInterval: 4000,
    queryFn: async () => {
      const { data } = await api.GET("/api/designs/{id}/version", { params: { path: { id: state!.id } } });
      return data?.version ?? 0;
    },
  });
  const ahead = busy === 0 && !!state && (now.data ?? 0) > state.version;
  const takeOver = useCallback(
    () => client.refetchQueries({ queryKey: key(state?.id ?? "") }),
    [client, state?.id],
  );
  return { ahead, takeOver };
}

/** Once the hand has been still for a moment: the hours of what changed, settled. */
export function useSettled(state: StateOut | undefined) {
  const client = useQueryClient();
  useEffect(() => {
    if (!state?.view.pieces.some((p) => p.estimate?.level === "preview")) return;
    const stop = new AbortController();
    const wait = setTimeout(() => void settle(client, state, stop.signal), 300);
    return () => {
      clearTimeout(wait);
      stop.abort();
    };
  }, [state, client]);
}

/** Put settled hours in the place of the state they were asked for; whatever came meanwhile stays, for its own hours are asked for next.
 * Its version does not tell: the workshop may have changed under the same one. */
export async function settle(client: QueryClient, asked: StateOut, signal: AbortSignal) {
  try {
    const { data } = await api.GET("/api/designs/{id}/settled", {
      params: { path: { id: asked.id } },
      signal,
    });
    if (data?.version === asked.version && client.getQueryData(key(asked.id)) === asked)
      client.setQueryData(key(asked.id), data);
  } catch {
    // the next change asks again
  }
}

// One change after another, of the design or the workshop: a quick hand must not collide with itself.
let chain: Promise<unknown> = Promise.resolve();

/** Do something once all that was asked for before is answered; false where it was not done. */
function inTurn(work: () => Promise<boolean>): Promise<boolean> {
  useUi.setState((s) => ({ busy: s.busy + 1 })); // from the moment it is asked for: it may wait for others
  const next = chain.then(async () => {
    try {
      return await work();
    } catch {
      useUi.setState({ notice: complaint(undefined) });
      return false;
    } finally {
      useUi.setState((s) => ({ busy: s.busy - 1 }));
    }
  });
  chain = next;
  return next;
}

/** The edits that something a hand may do would make, where they are only asked for. */
let wouldBe: Edit[] | null = null;

/** The edits that `give` would make of the design; none of them is made. */
export function meant(give: () => void): Edit[] {
  const edits: Edit[] = [];
  wouldBe = edits;
  try {
    give();
  } finally {
    wouldBe = null;
  }
  return edits;
}

type Step = "undo" | "redo";

/** Everything a window can do to a design. Each promise tells whether it was done. */
export function useDo(id: string) {
  const client = useQueryClient();

  const run = useCallback(
    (call: (now: StateOut) => Promise<Answer>, again?: (now: StateOut) => Conflict) =>
      inTurn(async () => {
        const now = client.getQueryData<StateOut>(key(id));
        if (!now) return false;
        const { data, error, response } = await call(now);
        if (data) {
          noteMended(now, data);
          client.setQueryData(key(id), data);
          useUi.setState({ notice: null });
          return true;
        }
        if (response.status === 409 && error && typeof error === "object" && "now" in error) {
          client.setQueryData(key(id), error.now);
          useUi.setState({ conflict: again?.(now) ?? { edits: [], said: "" } });
        } else {
          useUi.setState({ notice: complaint(error) });
        }
        return false;
      }),
    [client, id],
  );

  /** Do edits. Given as a function they are worked out from the design as it stands when their turn comes, so that what was typed
   * just before, and is not answered yet, is not lost. */
  const edit = useCallback(
    (edits: Edit[] | ((now: StateOut) => Edit[]), said = "") => {
      const made = (now: StateOut) => (typeof edits === "function" ? edits(now) : edits);
      if (wouldBe) {
        const now = client.getQueryData<StateOut>(key(id));
        wouldBe.push(...(now ? made(now) : []));
        return Promise.resolve(false);
      }
      return run(
        (now) =>
          api.POST("/api/designs/{id}/edits", {
            params: { path: { id } },
            body: { base_version: now.version, edits: made(now), said },
          }),
        (now) => ({ edits: made(now), said }),
      );
    },
    [client, run, id],
  );
  const step = useCallback(
    (which: Step) =>
      run(({ version }) =>
        api.POST(`/api/designs/{id}/${which}`, {
          params: { path: { id } },
          body: { base_version: version },
        }),
      ),
    [run, id],
  );
  const goTo = useCallback(
    (number: number) =>
      run(({ version }) =>
        api.POST("/api/designs/{id}/goto", {
          params: { path: { id } },
          body: { base_version: version, number },
        }),
      ),
    [run, id],
  );
  const keep = useCallback(
    (number: number, name: string) =>
      run(() => api.POST("/api/designs/{id}/keep", { params: { path: { id } }, body: { number, name } })),
    [run, id],
  );
  const shop = useCallback(
    (edits: Remedy["shop"]) =>
      inTurn(async () => {
        const { data, error } = await api.POST("/api/workshop/edits", { body: { edits: [...edits] } });
        if (!data) {
          useUi.setState({ notice: complaint(error) });
          return false;
        }
        client.setQueryData(["workshop"], data);
        await client.invalidateQueries({ queryKey: key(id) });
        return true;
      }),
    [client, id],
  );
  /** Do what a remedy asks of the workshop, then what it asks of the design. */
  const remedy = useCallback(
    async (r: Remedy) => {
      if (r.shop.length && !(await shop(r.shop))) return false;
      return r.edits.length ? edit([...r.edits], r.label) : true;
    },
    [edit, shop],
  );
  /** The design as the last answer told it, for what follows at once on an edit. */
  const latest = useCallback(() => client.getQueryData<StateOut>(key(id)), [client, id]);
  return { edit, step, goTo, keep, remedy, latest };
}

interface Answer {
  data?: StateOut | undefined;
  error?: ConflictOut | ErrorOut | undefined;
  response: Response;
}

function noteMended(before: StateOut, after: StateOut) {
  const left = new Set(after.view.concerns.map((c) => c.key));
  const gone = before.view.concerns.filter((c) => !left.has(c.key)).map((c) => c.key);
  if (!gone.length) return;
  lastSeen = before;
  useUi.setState({ mended: gone });
  setTimeout(() => {
    useUi.setState({ mended: [] });
  }, 640);
}

let lastSeen: StateOut | null = null;

/** The concerns that are just going, as they were. */
export function goneConcerns(keys: string[]) {
  return lastSeen?.view.concerns.filter((c) => keys.includes(c.key)) ?? [];
}
