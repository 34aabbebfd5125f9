import { lazy, Suspense, useEffect, useState } from "react";

import type { Component, ErrorBody, Overview, PortKind } from "../../api/schema";
import { Button } from "../../ui/Button";
import { brief } from "../../ui/number";
import { doubted } from "./extent";
import { ComponentEditor } from "./ComponentEditor";
import { useOwnComponents } from "./useLibrary";

const Turning = lazy(() => import("./Turning"));

/** Something heavy that comes once the page has been drawn. */
function Afterwards({ children }: { children: React.ReactNode }) {
  const [now, setNow] = useState(false);
  useEffect(() => {
    const wait = setTimeout(() => {
      setNow(true);
    }, 350);
    return () => {
      clearTimeout(wait);
    };
  }, []);
  return now ? children : <div className="h-44 w-full rounded-[3px] border border-rule bg-paper/60" />;
}

/** All about one component: turning in 3D, its numbers and who says so; put on the bench, changed, taken along as a file. */
export function ComponentSlip({
  component: c,
  glance,
  kinds,
  fresh = false,
  onPlace,
  onPick,
}: {
  component: Component;
  glance: Overview | undefined;
  kinds: readonly PortKind[];
  /** A new component is under the pen at once. */
  fresh?: boolean;
  onPlace: () => void;
  onPick: (key: string) => void;
}) {
  const own = useOwnComponents();
  const [draft, setDraft] = useState<Component | null>(fresh ? c : null);
  const [wrong, setWrong] = useState<ErrorBody | null>(null);
  const kept = glance?.own === true;
  const keep = async (component: Component) => {
    const trouble = await own.keep(component);
    setWrong(trouble);
    if (!trouble) {
      setDraft(null);
      onPick(component.key);
    }
  };
  if (draft)
    return (
      <ComponentEditor
        draft={draft}
        kinds={kinds}
        wrong={wrong}
        onChange={setDraft}
        onKeep={() => void keep(draft)}
        onLeave={() => {
          setDraft(null);
          setWrong(null);
        }}
      />
    );
  const watts = c.power ?? [];
  return (
    <section
      aria-label={`About ${c.label}`}
      className="min-h-0 overflow-y-auto border-l border-rule p-4"
      tabIndex={0}
    >
      <h2 className="text-lg leading-tight">{c.label}</h2>
      <p className="mb-2 text-[12.5px] text-soft">{c.source}</p>
      <Afterwards>
        <Suspense fallback={<div className="h-44" />}>
          <Turning component={c} />
        </Suspense>
      </Afterwards>
      <div className="mt-3 flex flex-wrap gap-2">
        <Button kind="main" onClick={onPlace}>
          Put it on the bench
        </Button>
        {!glance && <Button onClick={() => void keep(c)}>Keep it in the library</Button>}
        <Button
          onClick={() => {
            setDraft(
              kept || !glance
                ? c
                : {
                    ...c,
                    key: `own-${crypto.randomUUID().slice(0, 8)}`,
                    label: `${c.label}, mine`,
                    mark: "measured",
                  },
            );
          }}
        >
          {kept || !glance ? "Change it" : "Copy and change"}
        </Button>
      </div>
      {wrong && (
        <p role="alert" className="mt-2 text-vermilion">
          {wrong.field}: {wrong.message}. {wrong.do}
        </p>
      )}
      {glance && glance.doubted.length > 0 && (
        <p className="mt-3 border-l-2 border-saffron pl-2.5 text-[12.5px]">
          Not sure: {glance.doubted.slice(0, 4).join("; ")}
          {glance.doubted.length > 4 && ` and ${glance.doubted.length - 4} more`}. Measure them before you
          print.
        </p>
      )}
      <dl className="num mt-3 grid grid-cols-[auto_1fr] gap-x-3 text-[12.5px]">
        {(
          [
            ["size", glance?.size_mm.map((v) => brief(v, 1)).join(" × ")],
            ["holes", glance?.holes || "none"],
            ["heat", `${brief(c.heat_w, 1)} W`],
            ["mass", `${brief(c.mass_g, 0)} g`],
            ...watts.map(
              (d) =>
                [
                  d.rail,
                  `${brief(d.idle_w, 1)} / ${brief(d.typical_w, 1)} / ${brief(d.peak_w, 1)} W by ${d.plug}`,
                ] as const,
            ),
            ...(c.supply
              ? ([
                  ["gives", `${brief(c.supply.total_w, 0)} W: ${Object.keys(c.supply.rails).join(", ")}`],
                ] as const)
              : []),
          ] as const
        ).map(
          ([name, value]) =>
            value !== undefined && (
              <div key={name} className="contents">
                <dt className="font-sans text-soft">{name}</dt>
                <dd>{value}</dd>
              </div>
            ),
        )}
      </dl>
      {(c.ports?.length ?? 0) > 0 && (
        <>
          <h3 className="mt-4 mb-1">Ports</h3>
          <ul className="text-[12.5px]">
            {c.ports!.map((p) => (
              <li key={p.name} className="flex justify-between gap-2">
                {p.name}
                <span className="text-soft">
                  {kinds.find((k) => k.kind === p.kind)?.label ?? p.kind}, {p.facing}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      {(c.headers?.length ?? 0) > 0 && (
        <p className="mt-3 text-[12.5px]">
          {c.headers!.map((h) => (
            <span key={h.name} className="block">
              {h.name}: {h.kind}, mates at {brief(h.mates_mm[0]!, 1)} – {brief(h.mates_mm[1]!, 1)} mm board to
              board
            </span>
          ))}
        </p>
      )}
      <h3 className="mt-4 mb-1">Solids, and who says so</h3>
      <ul className="space-y-1.5 text-[12.5px]">
        {c.solids.map((s) => (
          <li key={s.name}>
            <span className="flex justify-between gap-2">
              {s.name}
              <span className="num">
                {s.hi.map((v, i) => brief(v - s.lo[i]!, 1)).join(" × ")}
                {s.sure_mm !== null && s.sure_mm !== undefined && s.sure_mm > 0 && ` ±${brief(s.sure_mm, 2)}`}
              </span>
            </span>
            <span
              className={`block text-[11.5px] leading-tight ${doubted(s) ? "text-saffron" : "text-soft"}`}
            >
              {s.source} <i>({s.mark})</i>
            </span>
          </li>
        ))}
      </ul>
      {glance && (
        <p className="mt-4 flex flex-wrap items-baseline gap-3 border-t border-rule pt-3 text-[12.5px]">
          <a className="border-b border-plum/50 hover:text-plum" href={`/api/library/${c.key}/json`} download>
            JSON
          </a>
          <a className="border-b border-plum/50 hover:text-plum" href={`/api/library/${c.key}/step`} download>
            STEP
          </a>
          {c.solids.some((s) => s.role === "board") && (
            <a
              className="border-b border-plum/50 hover:text-plum"
              href={`/api/library/${c.key}/idf`}
              download
            >
              IDF
            </a>
          )}
          {kept && (
            <Button
              onClick={() => {
                void own.drop(c.key).then(setWrong);
              }}
            >
              Remove it from the library
            </Button>
          )}
        </p>
      )}
    </section>
  );
}
