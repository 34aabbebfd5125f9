import { useMutation, useQuery } from "@tanstack/react-query";
import { Popover, Progress } from "radix-ui";
import { useState } from "react";

import { api } from "../api/client";
import type { StateOut } from "../api/schema";
import { Button } from "../ui/Button";
import { Rhomb } from "../ui/Rhomb";

/** One press: 3MF, STL, STEP, bill of materials and the design in one ZIP, made in the background. */
export function TakeHome({ state }: { state: StateOut }) {
  const [job, setJob] = useState<string | null>(null);
  const start = useMutation({
    mutationFn: async () => {
      const { data } = await api.POST("/api/designs/{id}/export", {
        params: { path: { id: state.id } },
        body: { formats: ["3mf", "stl", "step"] },
      });
      if (!data) throw new Error("The export could not be started. The design is kept; try again.");
      setJob(data.id);
    },
  });
  const progress = useQuery({
    queryKey: ["export", job],
    enabled: job !== null,
    refetchInterval: (q) => (q.state.data && q.state.data.state !== "running" ? false : 350),
    queryFn: async () => {
      const { data } = await api.GET("/api/exports/{job}", { params: { path: { job: job ?? "" } } });
      if (!data) throw new Error("The export is gone.");
      return data;
    },
  });
  const stops = state.view.concerns.filter((c) => c.severity === "stop").length;
  const p = progress.data;
  return (
    <Popover.Root
      onOpenChange={(open) => {
        if (!open && p?.state !== "running") setJob(null);
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
            {state.view.pieces.length} pieces as 3MF, STL and STEP, one 3MF for the set, the bill of
            materials, and the design to read in again. One ZIP.
          </p>
          {stops > 0 && (
            <p className="mb-2 flex gap-2">
              <Rhomb severity="stop" />
              {stops === 1 ? "One concern stops" : `${stops} concerns stop`} the print. The files are made all
              the same.
            </p>
          )}
          {!job && (
            <Button
              kind="main"
              onClick={() => {
                start.mutate();
              }}
            >
              Make the files
            </Button>
          )}
          {start.isError && <p role="alert">{start.error.message}</p>}
          {job && (!p || p.state === "running") && (
            <>
              <Progress.Root
                value={Math.round((p?.share ?? 0) * 100)}
                aria-label="Making the files"
                className="mb-1.5 h-1.5 overflow-hidden bg-rule"
              >
                <Progress.Indicator
                  className="h-full bg-plum transition-[width]"
                  style={{ width: `${(p?.share ?? 0) * 100}%` }}
                />
              </Progress.Root>
              <div className="flex items-center justify-between">
                <span className="text-soft">{p?.what ?? "starting"}</span>
                <Button
                  onClick={() => void api.POST("/api/exports/{job}/stop", { params: { path: { job } } })}
                >
                  Stop
                </Button>
              </div>
            </>
          )}
          {p?.state === "done" && job && (
            <a
              href={`/api/exports/${job}/file`}
              className="inline-block rounded-[3px] border border-verdigris px-2.5 py-1 font-medium text-verdigris"
            >
              Save the ZIP
            </a>
          )}
          {(p?.state === "failed" || p?.state === "stopped") && (
            <div role="alert">
              <p className="mb-2">
                {p.state === "failed" ? `No files were made: ${p.what}.` : "Stopped. Nothing was written."}{" "}
                The design is kept.
              </p>
              <Button
                onClick={() => {
                  setJob(null);
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
