import { useState } from "react";

import { api, complaint } from "../../api/client";
import type { ErrorBody, GcodeReport } from "../../api/schema";
import { DropZone } from "../../ui/DropZone";
import { brief, duration, show } from "../../ui/number";

/** Drop any G-code: what it takes on a printer, compared with the plan where there is one. */
export function GcodeDrop({
  printer,
  plan,
  children,
}: {
  printer: string;
  plan?: { time_s: number; metres: number };
  children?: (report: GcodeReport, file: File) => React.ReactNode;
}) {
  const [report, setReport] = useState<{ file: File; found: GcodeReport } | null>(null);
  const [trouble, setTrouble] = useState<ErrorBody | null>(null);
  const [busy, setBusy] = useState(false);
  const read = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    setTrouble(null);
    const form = new FormData();
    form.set("file", file);
    form.set("printer", printer);
    try {
      const { data, error } = await api.POST("/api/gcode", { body: form });
      if (data) setReport({ file, found: data });
      else setTrouble(complaint(error));
    } catch {
      setTrouble(complaint(undefined));
    }
    setBusy(false);
  };
  const f = report?.found;
  return (
    <div>
      <DropZone
        label="G-code file"
        onFiles={(files) => {
          void read(files[0]);
        }}
      >
        {busy
          ? "Reading …"
          : "Drop G-code here, or choose a file: hours, filament and bed by the same kinematics"}
      </DropZone>
      {trouble && (
        <p role="alert" className="mt-2 text-vermilion">
          {trouble.field}: {trouble.message}. {trouble.do}
        </p>
      )}
      {f && (
        <div className="mt-3">
          <p className="mb-1 font-medium">{report.file.name}</p>
          <dl className="grid grid-cols-[repeat(3,auto_1fr)] gap-x-3 gap-y-0.5">
            <Fact name="time" value={duration(f.time_s)} />
            <Fact name="filament" value={`${show(f.filament_m, 2)} m`} />
            <Fact name="layers" value={String(f.layers)} />
            <Fact name="nozzle" value={`${brief(f.nozzle_c, 0)} °C`} />
            <Fact name="bed" value={`${brief(f.bed_c, 0)} °C`} />
            <Fact name="changes" value={String(f.tool_changes + f.filament_changes)} />
          </dl>
          <p className={f.on_bed ? "text-verdigris" : "text-vermilion"}>
            {f.lo_mm && f.hi_mm
              ? `${f.lo_mm.map((v, i) => brief(f.hi_mm![i]! - v, 1)).join(" × ")} mm: ${f.on_bed ? "on the bed" : `${brief(f.over_mm, 1)} mm off the bed`}`
              : "Nothing is extruded."}
          </p>
          {plan && (
            <p className="text-soft">
              The plan says {duration(plan.time_s)} and {show(plan.metres, 2)} m: the file takes{" "}
              <span className="num text-ink">{brief((f.time_s / plan.time_s - 1) * 100, 0)} %</span> in time
              and <span className="num text-ink">{brief((f.filament_m / plan.metres - 1) * 100, 0)} %</span>{" "}
              in filament more or less.
            </p>
          )}
          {f.notes.map((n) => (
            <p key={n} className="text-[12px] text-soft">
              {n}
            </p>
          ))}
          {children?.(f, report.file)}
        </div>
      )}
    </div>
  );
}

function Fact({ name, value }: { name: string; value: string }) {
  return (
    <>
      <dt className="text-soft">{name}</dt>
      <dd className="num">{value}</dd>
    </>
  );
}
