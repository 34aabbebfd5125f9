import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api } from "../api/client";
import type { Learned, Limits as GcodeLimits, Pace, Printer as PrinterIn, PrinterState } from "../api/schema";
import { GcodeDrop } from "../stops/plan/GcodeDrop";
import { hours } from "../stops/plan/parts";
import { Button } from "../ui/Button";
import { brief, readMm } from "../ui/number";
import { NumberField } from "../ui/NumberField";
import type { Put } from "./WorkshopPage";

export type Printer = Required<PrinterIn>;

/** A printer: what it can do, how its last parts came out, its pace and what its hours teach. */
export function PrinterCard({
  printer: p,
  pace,
  learned,
  put,
}: {
  printer: Printer;
  pace: Pace;
  learned: Learned;
  put: Put;
}) {
  const set = (change: Partial<Printer>) => {
    put((w) => ({ ...w, printers: w.printers.map((x) => (x.key === p.key ? { ...x, ...change } : x)) }));
  };
  const num = (
    field:
      | "nozzle_mm"
      | "margin_mm"
      | "speed_mm_s"
      | "accel_mm_s2"
      | "corner_mm_s"
      | "flow_mm3_s"
      | "slots"
      | "nozzle_max_c"
      | "bed_max_c"
      | "chamber_c",
    label: string,
    unit: string,
  ) => (
    <NumberField
      label={label}
      unit={unit}
      value={p[field]}
      min={0}
      onCommit={(v) => {
        set({ [field]: field === "slots" ? Math.round(v) : v });
      }}
    />
  );
  const health = p.health as { skew_mm_per_100: number; flow_share: number; checked: string };
  return (
    <li className="rounded-[4px] border border-rule p-4">
      <div className="mb-2 flex items-baseline gap-3">
        <h3 className="text-[15px]">{p.name}</h3>
        <span className="num text-soft">{p.bed_mm.map((v) => brief(v, 0)).join(" × ")}</span>
      </div>
      <Room printer={p} />
      <div className="space-y-1">
        {num("nozzle_mm", "nozzle", "mm")}
        <Spares
          sizes={p.spare_nozzles_mm}
          onSet={(v) => {
            set({ spare_nozzles_mm: v });
          }}
        />
        {num("margin_mm", "worn edge", "mm")}
        {num("speed_mm_s", "speed", "mm/s")}
        {num("accel_mm_s2", "acceleration", "mm/s²")}
        {num("corner_mm_s", "at corners", "mm/s")}
        {num("flow_mm3_s", "hot end", "mm³/s")}
        {num("nozzle_max_c", "nozzle up to", "°C")}
        {num("bed_max_c", "bed up to", "°C")}
        {num("chamber_c", "chamber", "°C")}
        {num("slots", "filaments", "at once")}
        <div className="flex gap-4 pt-1">
          {(
            [
              ["enclosed", "enclosed"],
              ["hardened", "hardened nozzle"],
            ] as const
          ).map(([field, label]) => (
            <label key={field} className="flex items-center gap-1.5 text-soft">
              <input
                type="checkbox"
                className="accent-(--plum)"
                checked={p[field]}
                onChange={(e) => {
                  set({ [field]: e.target.checked });
                }}
              />
              {label}
            </label>
          ))}
        </div>
      </div>
      <h4 className="mt-3 mb-1 font-head font-semibold">How its last parts came out</h4>
      <div className="space-y-1">
        <NumberField
          label="skew"
          unit="mm over 100"
          value={health.skew_mm_per_100}
          step={0.1}
          min={0}
          onCommit={(v) => {
            set({ health: { ...health, skew_mm_per_100: v } });
          }}
        />
        <NumberField
          label="flow"
          unit="% of asked"
          value={health.flow_share * 100}
          min={1}
          onCommit={(v) => {
            set({ health: { ...health, flow_share: v / 100 } });
          }}
        />
      </div>
      <PaceBook printer={p} pace={pace} set={set} />
      <LearnedLimits learned={learned} put={put} />
      <Simulated printer={p} set={set} />
    </li>
  );
}

/** What a printer can hold, bed and front, all printers to one scale; the worn edge dashed. */
function Room({ printer: p }: { printer: Printer }) {
  const [x, y, z] = p.bed_mm as [number, number, number];
  const k = 0.3;
  const m = p.margin_mm;
  return (
    <svg
      viewBox="0 0 330 108"
      className="mb-2 w-full"
      role="img"
      aria-label={`Bed ${x} by ${y}, ${z} high${p.enclosed ? ", enclosed" : ""}`}
    >
      <g fill="var(--paper)" stroke="var(--ink)">
        <rect x="1" y={106 - y * k} width={x * k} height={y * k} />
        <rect
          x="121"
          y={106 - z * k}
          width={x * k}
          height={z * k}
          fillOpacity={p.enclosed ? 1 : 0}
          strokeDasharray={p.enclosed ? undefined : "5 3"}
        />
      </g>
      <rect
        x={1 + m * k}
        y={106 - y * k + m * k}
        width={(x - 2 * m) * k}
        height={(y - 2 * m) * k}
        fill="none"
        stroke="var(--slate)"
        strokeDasharray="3 2"
      />
      <path d={`M${121 + (x * k) / 2} ${106 - z * k}v10l-3 5h6l-3 -5`} stroke="var(--plum)" fill="none" />
      <text x={121 + (x * k) / 2 + 8} y={106 - z * k + 15} fontSize="9.5" fill="var(--soft)">
        {p.nozzle_mm}
      </text>
      <text x="232" y="100" fontSize="9.5" fill="var(--soft)">
        bed · front
      </text>
    </svg>
  );
}

/** Planned against real hours: what they teach. */
function PaceBook({
  printer: p,
  pace,
  set,
}: {
  printer: Printer;
  pace: Pace;
  set: (c: Partial<Printer>) => void;
}) {
  const [what, setWhat] = useState("");
  const [planned, setPlanned] = useState("");
  const [real, setReal] = useState("");
  const add = (entry: { what: string; planned_s: number; rush_s?: number; real_s: number }) => {
    set({ paced: [...p.paced, { rush_s: null, ...entry }] });
  };
  const a = readMm(planned);
  const b = readMm(real);
  return (
    <div className="mt-3">
      <h4 className="mb-1 font-head font-semibold">Pace</h4>
      <p>
        <span className="num">{brief(pace.factor, 2)}</span> × planned, nine in ten between{" "}
        <span className="num">{brief(pace.low, 2)}</span> and{" "}
        <span className="num">{brief(pace.high, 2)}</span>
        <span className="text-soft">
          {pace.prints
            ? `; taught by ${pace.prints} print${pace.prints > 1 ? "s" : ""}`
            : "; no print has taught it yet"}
        </span>
      </p>
      <ul className="text-[12.5px]">
        {p.paced.map((x, i) => (
          <li key={i} className="flex items-baseline gap-2">
            <span className="min-w-0 flex-1 truncate">{x.what}</span>
            <span className="num text-soft">
              {hours(x.planned_s)} → {hours(x.real_s)}
            </span>
            <button
              type="button"
              aria-label={`Strike out ${x.what}`}
              className="cursor-pointer px-1 text-soft hover:text-vermilion"
              onClick={() => {
                set({ paced: p.paced.filter((_, k) => k !== i) });
              }}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <form
        className="mt-1 flex gap-1.5"
        onSubmit={(e) => {
          e.preventDefault();
          if (!a || !b || a <= 0 || b <= 0) return;
          add({ what: what.trim() || "a print", planned_s: a * 3600, real_s: b * 3600 });
          setWhat("");
          setPlanned("");
          setReal("");
        }}
      >
        {(
          [
            ["What was printed", what, setWhat, "what", "flex-1"],
            ["Hours planned", planned, setPlanned, "planned h", "w-[4.8rem]"],
            ["Hours it really took", real, setReal, "real h", "w-[4.2rem]"],
          ] as const
        ).map(([label, value, change, hint, width]) => (
          <input
            key={label}
            aria-label={`${label}, ${p.name}`}
            placeholder={hint}
            value={value}
            onChange={(e) => {
              change(e.target.value);
            }}
            className={`${width} min-w-0 rounded-[3px] border border-rule bg-paper px-1.5 py-0.5`}
          />
        ))}
        <Button type="submit">Note</Button>
      </form>
      <div className="mt-2">
        <GcodeDrop printer={p.key}>
          {(report, name) => (
            <>
              <TakeLimits limits={report.limits} set={set} />
              <form
                className="mt-1 flex items-baseline gap-2"
                onSubmit={(e) => {
                  e.preventDefault();
                  const took = readMm(String(new FormData(e.currentTarget).get("real")));
                  if (took && took > 0)
                    add({
                      what: name.slice(0, 60),
                      planned_s: report.time_s,
                      rush_s: report.rush_s,
                      real_s: took * 3600,
                    });
                }}
              >
                <label>
                  It really took{" "}
                  <input
                    name="real"
                    aria-label={`Hours ${name} really took`}
                    placeholder={brief(report.time_s / 3600, 2)}
                    className="num w-[4.4rem] rounded-[3px] border border-rule bg-paper px-1.5 py-0.5 text-right"
                  />{" "}
                  h
                </label>
                <Button type="submit">Teach the pace</Button>
              </form>
            </>
          )}
        </GcodeDrop>
      </div>
    </div>
  );
}

/** Nozzles that lie beside the printer. */
function Spares({ sizes, onSet }: { sizes: readonly number[]; onSet: (v: number[]) => void }) {
  const [text, setText] = useState<string | null>(null);
  const done = () => {
    if (text === null) return;
    const read = text.split(/[\s,;]+/).map(Number);
    setText(null);
    onSet([...new Set(read.filter((v) => v >= 0.1 && v <= 2))].sort((a, b) => a - b));
  };
  return (
    <label className="flex items-baseline justify-between gap-2">
      <span className="text-soft">spare nozzles</span>
      <span>
        <input
          value={text ?? sizes.join(", ")}
          placeholder="none"
          onChange={(e) => {
            setText(e.target.value);
          }}
          onBlur={done}
          onKeyDown={(e) => {
            if (e.key === "Enter") done();
          }}
          className="num w-[6.4rem] rounded-[3px] border border-rule bg-paper px-1.5 py-0.5 text-right"
        />{" "}
        <span className="text-soft">mm</span>
      </span>
    </label>
  );
}

/** The acceleration that the hours speak for, to be taken over. */
function LearnedLimits({ learned: l, put }: { learned: Learned; put: Put }) {
  if (l.prints === 0) return null;
  return (
    <p className="mt-2 text-[12.5px]">
      {l.accel_mm_s2 === null ? (
        <span className="text-soft">Acceleration cannot be told from its hours: {l.said}.</span>
      ) : (
        <>
          Its hours speak for an acceleration of <span className="num">{brief(l.accel_mm_s2, 0)}</span> mm/s²
          (
          <span className="num">
            {brief(l.low, 0)} – {brief(l.high, 0)}
          </span>
          ).{" "}
          <Button
            onClick={() => {
              put((w) => ({
                ...w,
                printers: w.printers.map((x) => (x.key === l.printer!.key ? l.printer! : x)),
              }));
            }}
          >
            Take it over
          </Button>
        </>
      )}
    </p>
  );
}

const LIMITS = [
  ["speed_mm_s", "speed", "mm/s"],
  ["accel_mm_s2", "acceleration", "mm/s²"],
  ["travel_accel_mm_s2", "acceleration of travel", "mm/s²"],
  ["corner_mm_s", "at corners", "mm/s"],
] as const;

/** Limits of the machine that a file of G-code names, to be taken over. */
function TakeLimits({ limits, set }: { limits: GcodeLimits; set: (c: Partial<Printer>) => void }) {
  const named = LIMITS.filter(([field]) => limits[field] !== null);
  if (!named.length) return null;
  return (
    <p className="mt-1 flex flex-wrap items-baseline gap-2">
      <span>
        The file names limits:{" "}
        {named.map(([field, label, unit]) => `${label} ${brief(limits[field]!, 0)} ${unit}`).join(", ")}.
      </span>
      <Button
        onClick={() => {
          set(Object.fromEntries(named.map(([field]) => [field, limits[field]!])));
        }}
      >
        Take them over
      </Button>
    </p>
  );
}

/** The simulated printer behind this one: print something, watch it, note how long it really took. */
function Simulated({ printer: p, set }: { printer: Printer; set: (c: Partial<Printer>) => void }) {
  const client = useQueryClient();
  const key = ["device", p.key];
  const [planned, setPlanned] = useState(0);
  const device = useQuery({
    queryKey: key,
    queryFn: async () =>
      (await api.GET("/api/devices/printers/{key}", { params: { path: { key: p.key } } })).data ?? null!,
    refetchInterval: (q) => (["heating", "printing"].includes(q.state.data?.state ?? "") ? 500 : false),
  });
  const d: PrinterState | undefined = device.data;
  const print = () => {
    const hoursPlanned = 5 + (p.paced.length % 4);
    setPlanned(hoursPlanned * 3600);
    void api
      .POST("/api/devices/printers/{key}/print", {
        params: { path: { key: p.key } },
        body: {
          what: `test plate of ${hoursPlanned} h`,
          planned_s: hoursPlanned * 3600,
          mass_g: hoursPlanned * 17,
          spool_g: 0,
          fault: "by chance",
        },
      })
      .then(({ data }) => {
        client.setQueryData(key, data);
      });
  };
  const running = d && ["heating", "printing"].includes(d.state);
  return (
    <div className="mt-3 border-t border-rule pt-2">
      <p className="mb-1 text-[12px] text-soft">Simulated device, a thousand times faster</p>
      <div className="flex flex-wrap items-center gap-2">
        {running ? (
          <>
            <progress aria-label={`${p.name} prints`} value={d.share} max={1} className="w-28" />
            <span className="num text-[12px]">
              {hours(d.real_s)}, {brief(d.used_g, 0)} g
            </span>
            <Button
              onClick={() =>
                void api
                  .POST("/api/devices/printers/{key}/stop", { params: { path: { key: p.key } } })
                  .then(({ data }) => {
                    client.setQueryData(key, data);
                  })
              }
            >
              Stop
            </Button>
          </>
        ) : (
          <Button onClick={print}>Print a test plate</Button>
        )}
        {d?.state === "failed" && <span className="text-vermilion">failed: {d.said}</span>}
        {d?.state === "done" && (
          <>
            <span>done in {hours(d.real_s)}</span>
            {planned > 0 && (
              <Button
                onClick={() => {
                  set({
                    paced: [...p.paced, { what: d.what, planned_s: planned, rush_s: null, real_s: d.real_s }],
                  });
                  setPlanned(0);
                }}
              >
                Note its hours
              </Button>
            )}
          </>
        )}
      </div>
    </div>
  );
}
