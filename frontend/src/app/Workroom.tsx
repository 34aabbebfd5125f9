import { lazy, Suspense, useEffect } from "react";
import { Link, Navigate, useLocation, useNavigate, useParams } from "react-router";

import { BenchSheet } from "../stops/bench/BenchSheet";
import { BriefSheet } from "../stops/brief/BriefSheet";
import { CutsSheet } from "../stops/cuts/CutsSheet";
import { HardwareSheet } from "../stops/hardware/HardwareSheet";
import { OpeningsSheet } from "../stops/openings/OpeningsSheet";
import { PartsSheet } from "../stops/parts/PartsSheet";
import { PlanSheet } from "../stops/plan/PlanSheet";
import { PanelsSheet } from "../stops/shell/PanelsSheet";
import { CannotShow } from "./CannotShow";
import { Concerns } from "./Concerns";
import { useDesign, useDo, useSettled, useUi } from "../desk/desk";
import type { SheetProps } from "../desk/sheetProps";
import { useTyping } from "../desk/useTyping";
import { Head } from "./Head";
import { Notices } from "./Notices";
import { Route } from "./Route";
import { STOPS, type StopKey } from "./stops";
import { useStay } from "../ui/useStay";
import { Typed } from "../ui/typed";
import { Working } from "../ui/working";
import { Tally } from "./Tally";

const ShellSheet = lazy(() => import("../stops/shell/ShellSheet"));

const SHEETS: Record<StopKey, React.ComponentType<SheetProps>> = {
  brief: BriefSheet,
  parts: PartsSheet,
  bench: BenchSheet,
  shell: ShellSheet,
  openings: OpeningsSheet,
  cuts: CutsSheet,
  hardware: HardwareSheet,
  plan: PlanSheet,
};

const LATER = new Set<StopKey>(["bench", "openings"]);

/** Stops that have nothing to draw where the case is loose panels. */
function NoHalves({ state }: SheetProps) {
  return (
    <div className="grid h-full place-items-center p-8 text-center">
      <div>
        <h2 className="mb-2 text-xl">There are only panels here</h2>
        <p className="mb-4 max-w-sm text-soft">
          This design is a set of loose panels. Their sizes and vents are at the stop Shell, their hours at
          the Print plan.
        </p>
        <Link className="text-plum underline" to={`/designs/${state.id}/shell`}>
          Look at the panels
        </Link>
      </div>
    </div>
  );
}

/** One design at one stop: route, sheet, concerns, tally, head. */
export function Workroom() {
  const { id = "", stop } = useParams();
  const design = useDesign(id);
  useSettled(design.data);
  const typed = useTyping(design.data);
  const act = useDo(id);
  const go = useNavigate();
  const here = STOPS.find((s) => s.key === stop)?.key;

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      if (target.closest("input, textarea, select, [contenteditable]")) return;
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "z") {
        e.preventDefault();
        void act.step(e.shiftKey ? "redo" : "undo");
        return;
      }
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "y") {
        e.preventDefault();
        void act.step("redo");
        return;
      }
      if (e.ctrlKey || e.metaKey || e.altKey) return;
      if (e.key === "c") document.querySelector<HTMLElement>('aside[aria-label="Concerns"] button')?.focus();
      const to = STOPS.find((s, i) => String(i + 1) === e.key || s.letter === e.key);
      if (to) void go(`/designs/${id}/${to.key}`);
      if (e.key === "Escape") useUi.getState().select([]);
    };
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
    };
  }, [act, go, id]);

  // going to another stop clears the selection, or brings one along
  const { state: brought } = useLocation() as { state: { select?: string[] } | null };
  useEffect(() => {
    useUi.getState().select(brought?.select ?? []);
  }, [stop, id, brought]);

  const busy = useUi((s) => s.busy > 0);
  useStay(busy);
  const name = design.data?.design.name;
  const label = STOPS.find((s) => s.key === here)?.label;
  useEffect(() => {
    document.title = name ? `${name} · ${label ?? ""} · Rhombex` : "Rhombex";
  }, [name, label]);

  if (!here) return <Navigate to={`/designs/${id}/bench`} replace />;
  if (design.isError) return <CannotShow id={id} error={design.error} />;
  if (!design.data)
    return (
      <main className="grid h-full place-items-center text-soft" aria-busy="true">
        <h1 className="text-base font-normal">Laying out the sheets …</h1>
      </main>
    );

  const loose = design.data.view.case.walls.length === 0;
  const Sheet = loose && here === "shell" ? PanelsSheet : loose && LATER.has(here) ? NoHalves : SHEETS[here];
  return (
    <div className="grid h-full grid-cols-[132px_minmax(0,1fr)_300px] grid-rows-[46px_minmax(0,1fr)_66px] max-[1180px]:grid-cols-[116px_minmax(0,1fr)_260px] max-[900px]:flex max-[900px]:h-auto max-[900px]:min-h-full max-[900px]:flex-col">
      <Head state={design.data} act={act} here={here} />
      <Route state={design.data} here={here} />
      <main
        className="relative min-h-0 min-w-0 overflow-hidden bg-leaf max-[900px]:h-[32rem] max-[900px]:flex-none"
        aria-label={`${label ?? ""} sheet`}
      >
        <h1 className="sr-only">
          {design.data.design.name}: {label}
        </h1>
        <Suspense fallback={<p className="p-6 text-soft">Setting up the drawing …</p>}>
          <Working value={busy}>
            <Typed value={typed}>
              <Sheet state={design.data} act={act} />
            </Typed>
          </Working>
        </Suspense>
        <Notices state={design.data} act={act} />
      </main>
      <Concerns state={design.data} act={act} />
      <Tally state={design.data} />
    </div>
  );
}
