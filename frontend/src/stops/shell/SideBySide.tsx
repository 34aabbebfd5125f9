import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { api, complaint, type Edit } from "../../api/client";
import type { StateOut } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { brief, show } from "../../ui/number";
import { Scene } from "./Scene";

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
    <section aria-label="Side by side" className="grid h-full grid-rows-[auto_minmax(0,1fr)_auto] px-6 py-4">
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
        <div className="grid min-h-0 grid-cols-2 gap-4">
          <Half title={`${state.design.shell.construction.kind} (now)`} state={state} beside={there} />
          <Half title={kind} state={there} beside={state} />
        </div>
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

function Half({ title, state, beside }: { title: string; state: StateOut; beside: StateOut }) {
  return (
    <figure className="flex min-h-0 flex-col">
      <div className="min-h-0 flex-1">
        <Scene state={state} open={0.35} cut={null} look="corner" parts chosen={null} beside={beside} />
      </div>
      <figcaption className="text-center font-head">{title}</figcaption>
    </figure>
  );
}

function Differences({ now, then }: { now: StateOut; then: StateOut }) {
  const size = (s: StateOut) => s.view.case.box_mm.map((x) => brief(x, 1)).join(" × ");
  const stops = (s: StateOut) => s.view.concerns.filter((c) => c.severity === "stop").length;
  const rows: [string, string, string, string][] = [
    ["Outer size", size(now), size(then), "mm"],
    ...now.view.tally.flatMap((t): [string, string, string, string][] => {
      const other = then.view.tally.find((x) => x.key === t.key);
      return other
        ? [[t.label, show(t.trail.value, t.digits), show(other.trail.value, t.digits), t.trail.unit]]
        : [];
    }),
    ["Sheets", String(now.view.sheets.length), String(then.view.sheets.length), ""],
    ["Concerns that stop", String(stops(now)), String(stops(then)), ""],
  ];
  return (
    <table className="mt-2 w-full text-left text-[13px]">
      <caption className="sr-only">What changes from the one to the other</caption>
      <tbody className="grid grid-cols-2 gap-x-8">
        {rows.map(([label, a, b, unit]) => (
          <tr key={label} className="grid grid-cols-[1fr_auto_auto] gap-x-3 border-b border-rule">
            <th scope="row" className="font-normal text-soft">
              {label}
            </th>
            <td className="num">{a}</td>
            <td className={`num min-w-24 text-right ${a === b ? "text-soft" : "font-medium"}`}>
              {a === b ? "same" : `→ ${b}`} {unit.replace("degC", "°C")}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
