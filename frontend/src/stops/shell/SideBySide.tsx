import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { api, complaint, type Edit } from "../../api/client";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { Differences, Halves } from "./Halves";

interface Props extends SheetProps {
  kind: string;
  edits: readonly Edit[];
  onClose: () => void;
  onTake: () => void;
}

/** The case as it is and as it would be, drawn at one scale, with what moves in the tally; both can be kept. */
export function SideBySide({ state, kind, edits, onClose, onTake }: Props) {
  const go = useNavigate();
  const [trouble, setTrouble] = useState("");
  const tried = useQuery({
    queryKey: ["tried", state.id, state.version, kind],
    staleTime: Infinity,
    queryFn: async () => {
      const { data, error } = await api.POST("/api/designs/{id}/tried", {
        params: { path: { id: state.id } },
        body: { edits: [...edits] },
      });
      if (!data) throw new Error(complaint(error).message);
      return data;
    },
  });
  const keep = async () => {
    const copied = await api.POST("/api/designs/{id}/copy", {
      params: { path: { id: state.id } },
      body: { name: `${state.design.name}, ${kind}`.slice(0, 60) },
    });
    if (!copied.data) {
      setTrouble(complaint(copied.error).message);
      return;
    }
    const { id, version } = copied.data;
    const done = await api.POST("/api/designs/{id}/edits", {
      params: { path: { id } },
      body: { base_version: version, edits: [...edits], said: `make it as ${kind}` },
    });
    if (done.data) void go(`/designs/${id}/shell`);
    else setTrouble("The copy is on the shelf, but could not be made the other way.");
  };
  const there = tried.data;
  return (
    <section
      aria-label="Side by side"
      className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto] px-6 py-4"
    >
      <div className="flex items-baseline gap-3">
        <h2 className="flex-1 text-[17px]">Side by side, at one scale</h2>
        {there && (
          <>
            <Button onClick={() => void keep()}>Keep both</Button>
            <Button onClick={onTake}>Make it so</Button>
          </>
        )}
        <Button onClick={onClose}>Back to the table</Button>
      </div>
      {there ? (
        <Halves now={state} then={there} titles={[`${state.design.shell.construction.kind} (now)`, kind]} />
      ) : (
        <p className="text-soft">
          {tried.isError ? `It could not be tried: ${tried.error.message}` : "Making the other case …"}
        </p>
      )}
      {there && <Differences now={state} then={there} />}
      {trouble && <p role="alert">{trouble}</p>}
    </section>
  );
}
