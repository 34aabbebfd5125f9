import { useState } from "react";

import type { Confirmed, PortKind, Recognised } from "../../api/schema";
import { convexPath } from "../../sheet/convex";
import { Dimension } from "../../sheet/Dimension";
import { useSize } from "../../sheet/useSize";
import { Button } from "../../ui/Button";
import { brief, show } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { Pick } from "../../ui/Pick";
import { FoundSolids, SolidName } from "./FoundSolids";
import { type Thread, THREADS } from "./threads";

const BOARD_TURNS = [
  ["z", "Turn it a quarter"],
  ["y", "Turn it over"],
] as const;
const BODY_TURNS = [
  ["z", "Turn it a quarter"],
  ["x", "Tip it back"],
  ["y", "Tip it sideways"],
] as const;
const short = (name: string) => (name.length > 12 ? `${name.slice(0, 11)}…` : name);
const cell = "rounded-[3px] border border-rule bg-leaf px-1 py-0.5";

/** What was recognised, drawn to scale; the user says which holes carry screws and which solids are ports. */
export function Picture({
  found: f,
  proposal,
  kinds,
  onTurn,
  onConfirm,
}: {
  found: Recognised;
  proposal: Confirmed;
  kinds: readonly PortKind[];
  onTurn: (about: "x" | "y" | "z") => void;
  onConfirm: (c: Confirmed) => void;
}) {
  const [c, setC] = useState(proposal);
  const [on, setOn] = useState<string | null>(null);
  const [box, size] = useSize<HTMLDivElement>();
  const [w, d] = f.size_mm;
  const found = f.found ?? [];
  const lo = [0, 1].map((i) => Math.min(0, ...found.map((x) => x.lo[i]!)));
  const hi = [0, 1].map((i) => Math.max(f.size_mm[i]!, ...found.map((x) => x.hi[i]!)));
  const k = Math.min((Math.max(size.w, 300) - 90) / (hi[0]! - lo[0]!), 330 / (hi[1]! - lo[1]!));
  const px = (x: number) => 55 + (x - lo[0]!) * k;
  const py = (y: number) => 26 + (hi[1]! - y) * k;
  const thread = (i: number) => c.holes.find((h) => h[0] === i)?.[1] as Thread | undefined;
  const port = (name: string) => c.ports.find((p) => p.found === name);
  const outside = kinds.filter((x) => x.outside);
  const edges = found.filter((x) => x.edge);
  const others = found.filter((x) => !x.edge);
  const setPort = (name: string, kind: string) => {
    const rest = c.ports.filter((p) => p.found !== name);
    const named = port(name)?.name ?? `port-${c.ports.length + 1}`;
    setC({ ...c, ports: kind ? [...rest, { found: name, kind, name: named }] : rest });
  };
  return (
    <div ref={box} className="mt-4">
      <p>
        {f.kind === "board" ? "A board" : "A body"} of{" "}
        <span className="num">{f.size_mm.map((v) => brief(v, 2)).join(" × ")}</span> mm, {f.turned}; up is{" "}
        {f.up}.{" "}
        <span className="inline-flex gap-2">
          {(f.kind === "board" ? BOARD_TURNS : BODY_TURNS).map(([about, label]) => (
            <Button
              key={label}
              onClick={() => {
                onTurn(about);
              }}
            >
              {label}
            </Button>
          ))}
        </span>
        {f.notes?.map((n) => (
          <span key={n} className="block text-[12.5px] text-soft">
            {n}
          </span>
        ))}
      </p>
      <svg
        width="100%"
        height={(hi[1]! - lo[1]!) * k + 58}
        role="img"
        aria-label={`${f.name} from above: ${f.holes?.length ?? 0} holes, ${found.length} components`}
      >
        <path
          d={
            (f.outline?.length ?? 0) > 2
              ? `M${f.outline!.map((p) => `${px(p[0]!)} ${py(p[1]!)}`).join("L")}Z`
              : f.kind === "board"
                ? `M${px(0)} ${py(0)}H${px(w)}V${py(d)}H${px(0)}Z`
                : ""
          }
          fill="color-mix(in srgb, var(--verdigris) 12%, var(--leaf))"
          stroke="var(--ink)"
        />
        {found.map((x) => {
          const out = c.left_out.includes(x.name);
          const look = {
            fill: out
              ? "none"
              : on === x.name
                ? "var(--plumwash)"
                : port(x.name)
                  ? "color-mix(in srgb, var(--plum) 22%, var(--leaf))"
                  : "color-mix(in srgb, var(--slate) 18%, var(--leaf))",
            stroke: out ? "var(--rule)" : on === x.name ? "var(--plum)" : "var(--ink)",
            strokeWidth: on === x.name ? 1.8 : 0.8,
            strokeDasharray: x.side === "bottom" ? "3 2" : undefined,
          };
          return x.corners?.length ? (
            <path key={x.name} d={convexPath(x.corners, (p) => [px(p[0]!), py(p[1]!)])} {...look}>
              <title>{c.names[x.name] ?? x.name}</title>
            </path>
          ) : (
            <rect
              key={x.name}
              x={px(x.lo[0]!)}
              y={py(x.hi[1]!)}
              width={Math.max(0.5, (x.hi[0]! - x.lo[0]!) * k)}
              height={Math.max(0.5, (x.hi[1]! - x.lo[1]!) * k)}
              {...look}
            >
              <title>{c.names[x.name] ?? x.name}</title>
            </rect>
          );
        })}
        {edges.map((x) => (
          <text
            key={x.name}
            x={px((x.lo[0]! + x.hi[0]!) / 2)}
            y={py((x.lo[1]! + x.hi[1]!) / 2) + 4}
            fontSize="11"
            textAnchor="middle"
            fill="var(--ink)"
          >
            {short(c.names[x.name] ?? x.name)}
          </text>
        ))}
        {(f.holes ?? []).map((h, i) => (
          <g key={i}>
            <circle
              cx={px(h.at[0]!)}
              cy={py(h.at[1]!)}
              r={Math.max(1.5, (h.d_mm / 2) * k)}
              fill="var(--leaf)"
              stroke={thread(i) ? "var(--plum)" : "var(--slate)"}
              strokeWidth={thread(i) ? 2 : 1}
            />
            {thread(i) && (
              <text
                x={px(h.at[0]!) + (h.d_mm / 2) * k + 3}
                y={py(h.at[1]!) - 3}
                fontSize="11"
                fill="var(--plum)"
              >
                {c.holes.findIndex((x) => x[0] === i) + 1}
              </text>
            )}
          </g>
        ))}
        <Dimension x1={px(0)} y1={py(0)} x2={px(w)} y2={py(0)} text={brief(w, 2)} off={-20} />
        <Dimension x1={px(0)} y1={py(0)} x2={px(0)} y2={py(d)} text={brief(d, 2)} off={30} />
      </svg>
      <div className="mt-3 grid grid-cols-2 gap-x-8 gap-y-4 max-[1150px]:grid-cols-1">
        {(f.holes?.length ?? 0) > 0 && (
          <section aria-label="Holes found">
            <h3 className="mb-1">Holes</h3>
            <ul className="num max-h-56 overflow-y-auto text-[12.5px]">
              {f.holes!.slice(0, 80).map((h, i) => (
                <li key={i} className="flex items-baseline gap-2 py-0.5">
                  <span className="w-36">
                    {show(h.at[0]!, 2)}, {show(h.at[1]!, 2)}
                  </span>
                  <span className="w-16">⌀ {show(h.d_mm, 2)}</span>
                  <Pick
                    label={`Hole at ${show(h.at[0]!, 1)}, ${show(h.at[1]!, 1)} is for`}
                    value={thread(i) ?? ""}
                    options={[["", "no screw"], ...THREADS]}
                    className="font-sans"
                    onPick={(t) => {
                      const rest = c.holes.filter((x) => x[0] !== i);
                      setC({ ...c, holes: t ? [...rest, [i, t]] : rest });
                    }}
                  />
                </li>
              ))}
            </ul>
          </section>
        )}
        {edges.length > 0 && (
          <section aria-label="What reaches over an edge">
            <h3 className="mb-1">Over an edge: which ports are they?</h3>
            <ul className="text-[12.5px]">
              {edges.map((x) => (
                <li
                  key={x.name}
                  className="flex flex-wrap items-baseline gap-2 py-0.5"
                  onMouseEnter={() => {
                    setOn(x.name);
                  }}
                  onMouseLeave={() => {
                    setOn(null);
                  }}
                >
                  <SolidName solid={x.name} confirmed={c} set={setC} onPoint={setOn} />
                  <span className="w-[7.2rem] text-soft">
                    {x.edge}, over by <span className="num">{show(x.overhang_mm ?? 0, 2)}</span>
                  </span>
                  <Pick
                    label={`${x.name} is`}
                    className="w-32"
                    value={port(x.name)?.kind ?? ""}
                    options={[["", "no port in use"], ...outside.map((o) => [o.kind, o.label] as const)]}
                    onFocus={() => {
                      setOn(x.name);
                    }}
                    onBlur={() => {
                      setOn(null);
                    }}
                    onPick={(kind) => {
                      setPort(x.name, kind);
                    }}
                  />
                  {port(x.name) && (
                    <input
                      aria-label={`Name of the port at ${x.name}`}
                      value={port(x.name)!.name}
                      className={`${cell} w-24`}
                      onChange={(e) => {
                        const name = e.target.value
                          .toLowerCase()
                          .replace(/[^a-z0-9._-]/g, "-")
                          .slice(0, 20);
                        if (name)
                          setC({
                            ...c,
                            ports: c.ports.map((p) => (p.found === x.name ? { ...p, name } : p)),
                          });
                      }}
                    />
                  )}
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
      {others.length > 0 && (
        <FoundSolids solids={others} board={f.kind === "board"} confirmed={c} set={setC} onPoint={setOn} />
      )}
      <div className="mt-3 flex flex-wrap items-baseline gap-x-5 gap-y-2">
        <label className="flex items-baseline gap-1.5">
          <span className="text-soft">Call it</span>
          <input
            value={c.label}
            maxLength={80}
            className={`${cell} w-56 px-2`}
            onChange={(e) => {
              setC({ ...c, label: e.target.value });
            }}
          />
        </label>
        <NumberField
          label="Heat"
          inRow
          narrow
          unit="W"
          min={0}
          value={c.heat_w}
          onCommit={(v) => {
            setC({ ...c, heat_w: v });
          }}
        />
        <NumberField
          label="Mass"
          inRow
          narrow
          unit="g"
          min={0}
          value={c.mass_g}
          onCommit={(v) => {
            setC({ ...c, mass_g: v });
          }}
        />
        <Button
          kind="main"
          disabled={!c.label.trim()}
          onClick={() => {
            onConfirm(c);
          }}
        >
          It is right: make it a component
        </Button>
      </div>
    </div>
  );
}
