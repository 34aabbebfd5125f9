import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { api, complaint } from "../../api/client";
import type { Component, ErrorBody } from "../../api/schema";
import type { SheetProps } from "../../app/Workroom";
import { Hatch } from "../../sheet/Hatch";
import { Button } from "../../ui/Button";
import { brief } from "../../ui/number";
import { additionOf } from "./addition";

const K = 1.5; // pixels per millimetre, the same for every outline, so that sizes compare

/** A drawer of outlines, all to one scale. */
export function PartsSheet({ state, act }: SheetProps) {
  const [find, setFind] = useState("");
  const [picked, setPicked] = useState<string | null>(null);
  const [wrong, setWrong] = useState<ErrorBody | null>(null);
  const [own, setOwn] = useState<Component | null>(null);
  const go = useNavigate();
  const drawer = useQuery({
    queryKey: ["drawer"],
    staleTime: Infinity,
    queryFn: async () => ((await api.GET("/api/drawer")).data?.components ?? []) as Component[],
  });
  const all = [
    ...(own ? [own] : []),
    ...state.design.custom.filter((c) => c.key !== own?.key),
    ...(drawer.data ?? []),
  ];
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = [...all]
    .sort((a, b) => footprint(b) - footprint(a))
    .filter((c) => words.every((w) => `${c.label} ${c.family} ${spacing(c)}`.toLowerCase().includes(w)));
  const part = all.find((c) => c.key === picked) ?? shown[0];

  const place = async (c: Component) => {
    const edit = additionOf(state, c, c.key.startsWith("own-"));
    if (await act.edit([edit], `add ${c.label}`)) {
      const select = edit.do === "add" ? [edit.placement.id] : [];
      await go(`/designs/${state.id}/bench`, { state: { select } });
    }
  };
  const read = async (file: File) => {
    const form = new FormData();
    form.append("file", file);
    const { data, error } = await api.POST("/api/drawer/read", { body: form as never });
    setWrong(data ? null : complaint(error));
    if (data) {
      setOwn(data as Component);
      setPicked(data.key);
    }
  };

  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_19rem]">
      <div className="min-h-0 overflow-y-auto p-5" tabIndex={0} role="region" aria-label="Drawer">
        <div className="mb-4 flex items-center gap-3">
          <input
            type="search"
            aria-label="Search the drawer"
            placeholder="What it is, or its hole spacing: 58 x 49"
            value={find}
            onChange={(e) => {
              setFind(e.target.value);
            }}
            className="w-80 rounded-[3px] border border-rule bg-leaf px-2.5 py-1"
          />
          <label className="text-soft">
            Read a body in (STL, 3MF)
            <input
              type="file"
              accept=".stl,.3mf"
              aria-label="Read a body in"
              className="ml-2 w-48 text-ink"
              onChange={(e) => {
                const file = e.target.files?.[0];
                if (file) void read(file);
                e.target.value = "";
              }}
            />
          </label>
        </div>
        {wrong && (
          <p role="alert" className="mb-4 border-l-2 border-vermilion pl-3">
            {wrong.said}. {wrong.kept} {wrong.do}
          </p>
        )}
        <ul className="flex flex-wrap items-end gap-x-6 gap-y-5">
          {shown.map((c) => (
            <li key={c.key}>
              <button
                type="button"
                aria-pressed={part?.key === c.key}
                onClick={() => {
                  setPicked(c.key);
                }}
                onDoubleClick={() => void place(c)}
                className="group cursor-pointer text-left"
              >
                <Outline component={c} on={part?.key === c.key} />
                <span
                  className={`mt-1 block max-w-40 leading-tight ${part?.key === c.key ? "font-medium text-plum" : "group-hover:text-plum"}`}
                >
                  {c.label}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {shown.length === 0 && <p>Nothing in the drawer is called that.</p>}
      </div>
      {part && (
        <section
          aria-label={`About ${part.label}`}
          className="min-h-0 overflow-y-auto border-l border-rule p-4"
          tabIndex={0}
        >
          <h2 className="text-lg leading-tight">{part.label}</h2>
          <p className="mb-3 text-soft">{part.source}</p>
          <Button kind="main" onClick={() => void place(part)}>
            Put it on the bench
          </Button>
          <dl className="num mt-4 grid grid-cols-[auto_1fr] gap-x-3 text-[12.5px]">
            <dt className="font-sans text-soft">size</dt>
            <dd>{size(part)}</dd>
            <dt className="font-sans text-soft">holes</dt>
            <dd>{spacing(part) || "none"}</dd>
            <dt className="font-sans text-soft">heat</dt>
            <dd>{brief(part.heat_w, 1)} W</dd>
            <dt className="font-sans text-soft">mass</dt>
            <dd>{brief(part.mass_g, 0)} g</dd>
          </dl>
          <h3 className="mt-4 mb-1">Solids, and who says so</h3>
          <ul className="space-y-1.5 text-[12.5px]">
            {part.solids.map((s) => (
              <li key={s.name}>
                <span className="flex justify-between gap-2">
                  {s.name}
                  <span className="num">{s.hi.map((v, i) => brief(v - s.lo[i]!, 1)).join(" × ")}</span>
                </span>
                <span
                  className={`block text-[11.5px] leading-tight ${s.mark === "doubtful" ? "text-saffron" : "text-soft"}`}
                >
                  {s.source} <i>({s.mark})</i>
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function extent(c: Component) {
  const hard = c.solids.filter((s) => s.role !== "plug" && s.role !== "keepout");
  const lo = [0, 1, 2].map((i) => Math.min(...hard.map((s) => s.lo[i]!)));
  const hi = [0, 1, 2].map((i) => Math.max(...hard.map((s) => s.hi[i]!)));
  return { lo, hi };
}

function footprint(c: Component): number {
  const { lo, hi } = extent(c);
  return (hi[0]! - lo[0]!) * (hi[1]! - lo[1]!);
}

function size(c: Component): string {
  const { lo, hi } = extent(c);
  return hi.map((v, i) => brief(v - lo[i]!, 1)).join(" × ");
}

/** The hole pattern as people say it: 58 x 49. */
function spacing(c: Component): string {
  if (c.mounts.length < 2) return "";
  const span = (i: 0 | 1) =>
    Math.max(...c.mounts.map((m) => m.at[i])) - Math.min(...c.mounts.map((m) => m.at[i]));
  return `${brief(span(0), 2)} x ${brief(span(1), 2)}, ${c.mounts[0]!.thread.replace("_", ".")}`;
}

const FILL: Record<string, string> = {
  board: "color-mix(in srgb, var(--verdigris) 16%, var(--leaf))",
  body: "color-mix(in srgb, var(--slate) 20%, var(--leaf))",
  connector: "color-mix(in srgb, var(--slate) 8%, var(--leaf))",
  pins: "none",
  plug: "url(#soft)",
  keepout: "url(#soft)",
};

function Outline({ component: c, on }: { component: Component; on: boolean }) {
  const lo = [0, 1].map((i) => Math.min(...c.solids.map((s) => s.lo[i]!)));
  const hi = [0, 1].map((i) => Math.max(...c.solids.map((s) => s.hi[i]!)));
  const [w, h] = [hi[0]! - lo[0]!, hi[1]! - lo[1]!];
  const ink = on ? "var(--plum)" : "var(--ink)";
  return (
    <svg width={w * K + 4} height={h * K + 4} viewBox={`-2 -2 ${w * K + 4} ${h * K + 4}`} aria-hidden>
      <Hatch />
      {[...c.solids]
        .sort((a, b) => a.hi[2] - b.hi[2])
        .map((s) => {
          const x = (s.lo[0] - lo[0]!) * K;
          const y = (hi[1]! - s.hi[1]) * K;
          const look = {
            fill: FILL[s.role],
            stroke: ink,
            strokeWidth: on ? 1.5 : 0.9,
            strokeDasharray: s.role === "pins" ? "2 2" : s.role === "plug" ? "4 3" : undefined,
          };
          const [sw, sh] = [(s.hi[0] - s.lo[0]) * K, (s.hi[1] - s.lo[1]) * K];
          return s.round ? (
            <circle key={s.name} cx={x + sw / 2} cy={y + sh / 2} r={sw / 2} {...look} />
          ) : (
            <rect key={s.name} x={x} y={y} width={sw} height={sh} {...look} />
          );
        })}
      {c.mounts.map((m) => (
        <circle
          key={m.name}
          cx={(m.at[0] - lo[0]!) * K}
          cy={(hi[1]! - m.at[1]) * K}
          r={(m.hole_mm / 2) * K}
          fill="var(--leaf)"
          stroke={ink}
          strokeWidth="0.9"
        />
      ))}
    </svg>
  );
}
