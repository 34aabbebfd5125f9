import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";

import { api } from "../../api/client";
import type { LayerOut } from "../../api/schema";
import { busy, type Result, useJob } from "../../desk/useJob";
import { useSize } from "../../sheet/useSize";
import { Button } from "../../ui/Button";
import { brief, duration } from "../../ui/number";
import { JobBar } from "../../ui/JobBar";

/** Every layer of a piece laid out: one of them as ink, darker where the seconds go, beside the account. */
export function LayerWalk({ design, version, piece }: { design: string; version: number; piece: string }) {
  const work = useJob(["layers", design, version, piece], { kind: "layers", design, piece });
  const h = work.job?.result?.kind === "layers" ? work.job.result : undefined;
  const [at, setAt] = useState<number | null>(null);
  const heaviest = useMemo(() => (h?.seconds.length ? h.seconds.indexOf(Math.max(...h.seconds)) : 0), [h]);
  const layer = Math.min(at ?? heaviest, Math.max(0, (h?.seconds.length ?? 1) - 1));
  if (work.lost || work.job?.state === "failed")
    return (
      <p role="alert">
        The layers could not be laid out: {work.lost || work.job?.message}.{" "}
        <Button onClick={work.again}>Try again</Button>
      </p>
    );
  if (work.job?.state === "stopped")
    return (
      <p>
        Stopped; nothing is lost. <Button onClick={work.again}>Lay them out again</Button>
      </p>
    );
  if (!work.job || !h || busy(work.job))
    return (
      <JobBar
        label="Laying out layers"
        job={work.job}
        meanwhile={`Laying out every layer of the ${piece} …`}
        onStop={work.stop}
      />
    );
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_15rem] gap-x-6">
      <Ink job={work.job.id} layer={layer} total={h.seconds.length} />
      <Account job={work.job.id} layer={layer} hours={h} />
      <div className="col-span-2 mt-2">
        <Strip seconds={h.seconds} z={h.z_mm} layer={layer} onPick={setAt} />
      </div>
    </div>
  );
}

function useLayer(job: string, layer: number) {
  return useQuery({
    queryKey: ["layer", job, layer],
    staleTime: Infinity,
    gcTime: 30_000,
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const { data } = await api.GET("/api/jobs/{job}/layers/{layer}", { params: { path: { job, layer } } });
      if (!data) throw new Error("the layer is not there");
      return data;
    },
  });
}

/** One layer drawn with a pen: a path is the darker, the longer the head stays on each of its millimetres. */
function Ink({ job, layer, total }: { job: string; layer: number; total: number }) {
  const [box, size] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const data = useLayer(job, layer).data;
  useEffect(() => {
    const el = canvas.current;
    const pen = el?.getContext("2d");
    if (!el || !pen || !data || size.w < 10) return;
    const dpr = window.devicePixelRatio || 1;
    el.width = size.w * dpr;
    el.height = size.h * dpr;
    const [x0, y0] = data.lo_mm;
    const [x1, y1] = data.hi_mm;
    const pad = 6;
    const k = Math.min(size.w / (x1 - x0 + 2 * pad), size.h / (y1 - y0 + 2 * pad));
    const ox = (size.w - (x1 - x0) * k) / 2;
    const oy = (size.h - (y1 - y0) * k) / 2;
    pen.setTransform(dpr, 0, 0, dpr, 0, 0);
    pen.clearRect(0, 0, size.w, size.h);
    const ink = getComputedStyle(document.documentElement).getPropertyValue("--ink").trim();
    pen.strokeStyle = ink;
    pen.lineCap = "round";
    pen.lineJoin = "round";
    pen.lineWidth = Math.max(0.5, 0.36 * k);
    const pace = (p: LayerOut["paths"][number]) => p.time_s / Math.max(p.length_mm, 0.2);
    const paces = data.paths.map(pace).sort((a, b) => a - b);
    const slow = Math.max(paces[Math.floor(paces.length * 0.9)] ?? 0, 1e-6);
    for (const p of data.paths) {
      pen.globalAlpha = Math.min(1, 0.14 + 0.66 * (pace(p) / slow));
      pen.beginPath();
      p.points.forEach(([x, y], i) => {
        const px = ox + (x! - x0) * k;
        const py = size.h - oy - (y! - y0) * k;
        // every second stretch of a linked path only leads over: the pen is up
        if (i === 0 || (p.linked && i % 2 === 0)) pen.moveTo(px, py);
        else pen.lineTo(px, py);
      });
      pen.stroke();
    }
  }, [data, size.w, size.h]);
  return (
    <div ref={box} className="relative h-[330px]">
      <canvas
        ref={canvas}
        className="h-full w-full"
        role="img"
        aria-label={`Layer ${layer + 1} of ${total}, darker where the seconds go`}
      />
    </div>
  );
}

function Account({ job, layer, hours: h }: { job: string; layer: number; hours: Result<"layers"> }) {
  const data = useLayer(job, layer).data;
  const e = h.estimate;
  return (
    <div className="text-[12.5px]">
      <p className="mb-1 text-soft">
        Layer <span className="num text-ink">{layer + 1}</span> of {h.seconds.length}, up to{" "}
        <span className="num">{brief(h.z_mm[layer] ?? 0, 2)}</span> mm
      </p>
      <dl className="grid grid-cols-[1fr_auto] gap-x-3 border-t border-ink/40 pt-1">
        {Object.entries(data?.by_kind ?? {})
          .sort((a, b) => b[1] - a[1])
          .map(([kind, s]) => (
            <div key={kind} className="contents">
              <dt>{kind}</dt>
              <dd className="num text-right">{duration(s)}</dd>
            </div>
          ))}
        <dt className="border-t border-rule pt-0.5 font-medium">this layer</dt>
        <dd className="num border-t border-rule pt-0.5 text-right font-medium">
          {duration(h.seconds[layer] ?? 0)}
        </dd>
      </dl>
      <p className="mt-4 mb-1 text-soft">The whole piece, every layer laid out</p>
      <dl className="grid grid-cols-[1fr_auto] gap-x-3 border-t border-ink/40 pt-1">
        {[...e.by_kind]
          .sort((a, b) => b.time_s - a.time_s)
          .map((k) => (
            <div key={k.kind} className="contents">
              <dt>{k.kind}</dt>
              <dd className="num text-right">{duration(k.time_s)}</dd>
            </div>
          ))}
        <dt className="border-t border-rule pt-0.5 font-medium">in all</dt>
        <dd className="num border-t border-rule pt-0.5 text-right font-medium">{duration(e.time_s.value)}</dd>
      </dl>
    </div>
  );
}

/** All layers from the bed up, left to right: a bar of ink as high as its seconds. Arrow keys walk. */
function Strip({
  seconds,
  z,
  layer,
  onPick,
}: {
  seconds: readonly number[];
  z: readonly number[];
  layer: number;
  onPick: (j: number) => void;
}) {
  const n = seconds.length;
  const most = Math.max(...seconds);
  const d = seconds.map((s, j) => `M${j} 40V${40 - (36 * s) / most}H${j + 1}V40Z`).join("");
  const pick = (e: React.PointerEvent<SVGSVGElement>) => {
    const r = e.currentTarget.getBoundingClientRect();
    onPick(Math.max(0, Math.min(n - 1, Math.floor(((e.clientX - r.left) / r.width) * n))));
  };
  return (
    <div>
      <svg
        viewBox={`0 0 ${n} 44`}
        preserveAspectRatio="none"
        className="h-[58px] w-full cursor-ew-resize touch-none rounded-[2px] focus-visible:outline-2"
        style={{ outline: undefined }}
        role="slider"
        tabIndex={0}
        aria-label="Layer"
        aria-valuemin={1}
        aria-valuemax={n}
        aria-valuenow={layer + 1}
        aria-valuetext={`layer ${layer + 1}, ${duration(seconds[layer] ?? 0)}`}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          pick(e);
        }}
        onPointerMove={(e) => {
          if (e.buttons) pick(e);
        }}
        onKeyDown={(e) => {
          const by: Record<string, number> = {
            ArrowLeft: -1,
            ArrowDown: -1,
            ArrowRight: 1,
            ArrowUp: 1,
            PageUp: 10,
            PageDown: -10,
          };
          const to = e.key === "Home" ? 0 : e.key === "End" ? n - 1 : layer + (by[e.key] ?? NaN);
          if (Number.isNaN(to)) return;
          e.preventDefault();
          e.stopPropagation();
          onPick(Math.max(0, Math.min(n - 1, to)));
        }}
      >
        <path d={d} fill="var(--ink)" fillOpacity="0.55" />
        <rect x={layer} y={0} width={Math.max(1, n / 400)} height={44} fill="var(--plum)" />
      </svg>
      <p className="flex justify-between text-[11.5px] text-soft">
        <span>from the bed</span>
        <span>
          a bar for each layer, as high as its seconds (the highest {duration(most)}); drag, or walk with the
          arrow keys
        </span>
        <span className="num">{brief(z[n - 1] ?? 0, 1)} mm</span>
      </p>
    </div>
  );
}
