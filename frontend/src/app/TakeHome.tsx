import { Popover } from "radix-ui";
import { useState } from "react";

import type { StateOut } from "../api/schema";
import { busy, useJob } from "../desk/useJob";
import { Button } from "../ui/Button";
import { Rhomb } from "../ui/Rhomb";
import { JobBar } from "../ui/JobBar";

/** One press: files of every piece, of plates and the whole case, bill of materials and the design in one ZIP, made in the background. */
export function TakeHome({ state }: { state: StateOut }) {
  const [nth, setNth] = useState(0); // 0: not asked for yet
  const [components, setComponents] = useState(false);
  const work = useJob(
    ["export", state.id, nth],
    nth ? { kind: "export", design: state.id, components } : null,
  );
  const p = work.job;
  const stops = state.view.concerns.filter((c) => c.severity === "stop").length;
  return (
    <Popover.Root
      onOpenChange={(open) => {
        if (!open && !busy(p)) setNth(0);
      }}
    >
      <Popover.Trigger asChild>
        <Button kind="main">Export files</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label="Export files"
          align="end"
          sideOffset={6}
          className="settle z-50 w-[21rem] rounded-[4px] border border-rule bg-leaf p-3.5 shadow-[0_8px_30px_rgb(35_27_46/0.16)]"
        >
          <h2 className="mb-1.5 text-[15px]">Files to print and keep</h2>
          <p className="mb-2 text-soft">
            {state.view.pieces.length} {state.view.pieces.length === 1 ? "piece" : "pieces"} as 3MF, STL and
            STEP, each plate as its bed is laid, the whole case as STEP and opened as glTF, drawings to check
            by, the bill of materials, and the design to read in again. One ZIP.
          </p>
          {nth === 0 && (
            <label className="mb-2 flex items-center gap-2">
              <input
                type="checkbox"
                checked={components}
                onChange={(e) => {
                  setComponents(e.target.checked);
                }}
              />
              Components as simple solids in the STEP of the case
            </label>
          )}
          {stops > 0 && (
            <p className="mb-2 flex gap-2">
              <Rhomb severity="stop" />
              {stops === 1 ? "One concern stops" : `${stops} concerns stop`} the print. The files are made all
              the same.
            </p>
          )}
          {nth === 0 && (
            <Button
              kind="main"
              onClick={() => {
                setNth(Date.now());
              }}
            >
              Make the files
            </Button>
          )}
          {nth > 0 && !work.lost && (!p || busy(p)) && (
            <JobBar label="Making the files" job={p} meanwhile="Asking for the files" onStop={work.stop} />
          )}
          {p?.state === "done" && (
            <a
              href={`/api/jobs/${p.id}/file`}
              className="inline-block rounded-[3px] border border-verdigris px-2.5 py-1 font-medium text-verdigris"
            >
              Save the ZIP
            </a>
          )}
          {(work.lost || p?.state === "failed" || p?.state === "stopped") && (
            <div role="alert">
              <p className="mb-2">
                {work.lost || p?.state === "failed"
                  ? `No files were made: ${work.lost || p?.message}. ${p?.do ?? ""}`
                  : "Stopped. Nothing was written."}{" "}
                The design is kept.
              </p>
              <Button
                onClick={() => {
                  setNth(0);
                }}
              >
                Try again
              </Button>
            </div>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
