import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, complaint } from "../../api/client";
import type { Confirmed, ErrorBody, JobOut, OwnOut } from "../../api/schema";
import { busy, useJob } from "../../desk/useJob";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { DropZone } from "../../ui/DropZone";
import { JobBar } from "../../ui/JobBar";
import { Picture } from "./Picture";
import { useLibrary } from "./useLibrary";

const UNITS = (["mm", "cm", "in", "m", "thou"] as const).map((u) => ({ value: u, label: u }));

const READ_AS = (["board", "body"] as const).map((k) => ({ value: k, label: k }));

/** A component from a file: read in the background, laid on a picture, confirmed. */
export function ReadFile({ onMade }: { onMade: (made: OwnOut) => void }) {
  const [file, setFile] = useState<{ file: File; library: File | undefined } | null>(null);
  const [unit, setUnit] = useState<(typeof UNITS)[number]["value"]>("mm");
  const [started, setStarted] = useState<JobOut | null>(null);
  const client = useQueryClient();
  const key = ["read", started?.id];
  const work = useJob(key, started);
  const job = started && (work.job ?? started);
  const [turns, setTurns] = useState(0); // each is a new picture with a new proposal
  const [wrong, setWrong] = useState<ErrorBody | null>(null);
  const kinds = useLibrary().data?.kinds ?? [];

  const start = async (
    chosen: { file: File; library: File | undefined },
    asked = unit,
    longer = false,
    as: "" | "board" | "body" = "",
  ) => {
    setWrong(null);
    setFile(chosen);
    if (chosen.file.name.toLowerCase().endsWith(".json")) {
      const form = new FormData();
      form.set("file", chosen.file);
      const { data, error } = await api.POST("/api/library/file", { body: form });
      if (data) onMade(data);
      else setWrong(complaint(error));
      return;
    }
    const form = new FormData();
    form.set("file", chosen.file);
    if (chosen.library) form.set("library", chosen.library);
    if (/\.(stl|obj|ply|dxf)$/i.test(chosen.file.name) && asked !== "mm") form.set("unit", asked);
    if (longer) form.set("longer", "yes");
    if (as) form.set("as_kind", as);
    const { data, error } = await api.POST("/api/jobs/read", { body: form });
    if (data) setStarted(data);
    else setWrong(complaint(error));
  };
  const take = (all: File[]) => {
    const main = all.find((f) => !f.name.toLowerCase().endsWith(".emp")) ?? all[0];
    if (main) void start({ file: main, library: all.find((f) => f !== main) });
  };
  const read = job?.result?.kind === "read" ? job.result : null;
  const found = read?.found;
  return (
    <div
      className="h-full overflow-y-auto px-6 py-4"
      tabIndex={0}
      role="region"
      aria-label="A component from a file"
    >
      <DropZone
        label="Component file"
        multiple
        accept=".step,.stp,.dxf,.emn,.idf,.emp,.stl,.3mf,.obj,.ply,.glb,.json"
        onFiles={take}
      >
        Drop a board or component here, or choose files: STEP, DXF, IDF (.emn with .emp), STL, 3MF, OBJ, PLY,
        GLB, or a component’s JSON
      </DropZone>
      {job && busy(job) && !work.lost && (
        <div className="mt-4">
          <JobBar label="Reading the file" job={job} meanwhile="Reading the file" onStop={work.stop} />
        </div>
      )}
      {work.lost && (
        <p role="alert" className="mt-3 text-vermilion">
          {work.lost} Read the file again.
        </p>
      )}
      {job?.state === "stopped" && <p className="mt-3">Stopped; nothing was taken over.</p>}
      {job?.state === "failed" && (
        <p role="alert" className="mt-3 text-vermilion">
          {file?.file.name}: {job.message}. {job.do} Nothing was taken over.{" "}
          {job.message.includes("longer than") && file && (
            <Button onClick={() => void start(file, unit, true)}>Let it take two minutes</Button>
          )}
        </p>
      )}
      {wrong && (
        <p role="alert" className="mt-3 text-vermilion">
          {wrong.field}: {wrong.message}. {wrong.kept} {wrong.do}
        </p>
      )}
      {job && read && found && file && (
        <>
          {found.unit_from !== "the file" && (
            <div className="mt-3">
              <Choice
                label="Unit of the file"
                value={found.unit as "mm"}
                options={UNITS}
                onPick={(u) => {
                  setUnit(u);
                  void start(file, u);
                }}
              />
            </div>
          )}
          {found.format === "STEP" && (
            <div className="mt-3">
              <Choice
                label="Read as"
                value={found.kind}
                options={READ_AS}
                onPick={(kind) => void start(file, unit, false, kind)}
              />
            </div>
          )}
          <Picture
            key={`${job.id}-${turns}`}
            found={found}
            proposal={read.proposal}
            kinds={kinds}
            onTurn={(about) => {
              void api
                .POST("/api/jobs/{job}/turn", { params: { path: { job: job.id } }, body: { about } })
                .then(({ data, error }) => {
                  if (data) {
                    client.setQueryData(["job", ...key], data);
                    setTurns((n) => n + 1);
                  } else setWrong(complaint(error));
                });
            }}
            onConfirm={(confirmed: Confirmed) => {
              void api
                .POST("/api/library/confirm", { body: { job: job.id, confirmed } })
                .then(({ data, error }) => {
                  if (data) onMade(data);
                  else setWrong(complaint(error));
                });
            }}
          />
        </>
      )}
      {!job && !wrong && (
        <p className="mt-4 max-w-2xl text-soft">
          Of a board Rhombex finds the slab, the round holes, every component on it and the edge it reaches
          over; you look at it on a picture and say which are ports. A drawing gives outline and holes. A mesh
          is laid on its flattest side and taken apart into convex cells. The file is read apart from
          everything else and cannot harm your designs.
        </p>
      )}
    </div>
  );
}
