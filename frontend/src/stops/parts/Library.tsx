import { useState } from "react";
import { useNavigate } from "react-router";

import type { Component, Overview, OwnOut } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";
import { Outline } from "./Outline";
import { blankComponent } from "./ComponentEditor";
import { ComponentSlip } from "./ComponentSlip";
import { useLibrary } from "./useLibrary";

const SCALE = 0.9; // pixels a millimetre, the same for every outline, so that sizes compare

const FAMILIES: readonly (readonly [string, readonly string[]])[] = [
  ["Boards and what stacks on them", ["board", "shield"]],
  ["Drives", ["drive"]],
  ["Cooling", ["fan", "cooler", "radiator", "loop"]],
  ["Power", ["supply", "inlet", "converter"]],
  ["Cards and risers", ["card", "riser"]],
  ["Displays and lights", ["display", "light"]],
  ["Buttons, sockets, hubs", ["button", "socket", "hub"]],
];

/** All components as outlines to one scale; search by what it is, size or hole spacing. */
export function Library({ state, act, fresh: made }: SheetProps & { fresh: OwnOut | null }) {
  const fresh = made?.component ?? null;
  const [find, setFind] = useState("");
  const [blank, setBlank] = useState<Component | null>(null);
  const [picked, setPicked] = useState<string | null>(fresh?.key ?? null);
  const library = useLibrary().data;
  const go = useNavigate();
  const glance = new Map<string, Overview>((library?.overviews ?? []).map((o) => [o.key, o]));
  const inLibrary = library?.components ?? [];
  const extra = [...(blank ? [blank] : []), ...(fresh ? [fresh] : []), ...state.design.custom].filter(
    (c, i, all) => all.findIndex((x) => x.key === c.key) === i && !glance.has(c.key),
  );
  const every = [...extra, ...inLibrary];
  const words = find
    .toLowerCase()
    .replace(/(what has|holes?|mm|\?)/g, " ")
    .split(/\s+/)
    .filter((w) => w && w !== "x");
  const fits = (c: Component) => {
    const text = glance.get(c.key)?.words ?? `${c.label} ${c.family}`.toLowerCase();
    return words.every((w) => text.includes(w));
  };
  const shown = every.filter(fits);
  const component = every.find((c) => c.key === picked) ?? shown[0];
  const own = (c: Component) => glance.get(c.key)?.own ?? true;
  const groups = [
    ["Own components", shown.filter(own)] as const,
    ...FAMILIES.map(
      ([title, families]) => [title, shown.filter((c) => !own(c) && families.includes(c.family))] as const,
    ),
  ].filter(([, list]) => list.length > 0);
  const place = async (c: Component) => {
    const there = new Set(state.design.placements.map((p) => p.id));
    if (await act.edit([{ do: "place", component: c.key, custom: own(c) ? c : null }], `add ${c.label}`)) {
      const select = (act.latest()?.design.placements ?? []).filter((p) => !there.has(p.id)).map((p) => p.id);
      await go(`/designs/${state.id}/bench`, { state: { select } });
    }
  };
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_19rem] max-[900px]:block max-[900px]:overflow-y-auto">
      <div className="min-h-0 overflow-y-auto px-5 py-4" tabIndex={0} role="region" aria-label="Library">
        {made?.twin && (
          <p role="status" className="mb-3 border-l-2 border-saffron pl-3">
            This is just the component {made.twin} in your library. Nothing is kept until you put it in again.
          </p>
        )}
        <input
          type="search"
          aria-label="Search the library"
          placeholder="What it is, its size, or its hole spacing: 58 x 49"
          value={find}
          onChange={(e) => {
            setFind(e.target.value);
          }}
          className="mr-3 mb-3 w-[21rem] max-w-full rounded-[3px] border border-rule bg-leaf px-2.5 py-1"
        />
        <Button
          className="mb-3"
          onClick={() => {
            const component = blankComponent();
            setFind("");
            setBlank(component);
            setPicked(component.key);
          }}
        >
          A new component
        </Button>
        {groups.map(([title, list]) => (
          <section key={title} aria-label={title} className="mb-5">
            <h2 className="mb-2 border-b border-rule pb-0.5 text-[13.5px]">{title}</h2>
            <ul className="flex flex-wrap items-end gap-x-5 gap-y-4">
              {[...list]
                .sort((a, b) => a.label.localeCompare(b.label, "en", { numeric: true }))
                .map((c) => (
                  <li key={c.key}>
                    <button
                      type="button"
                      aria-pressed={component?.key === c.key}
                      onClick={() => {
                        setPicked(c.key);
                      }}
                      onDoubleClick={() => void place(c)}
                      className="group cursor-pointer text-left"
                    >
                      <Outline component={c} on={component?.key === c.key} k={SCALE} />
                      <span
                        className={`mt-1 block max-w-36 text-[12px] leading-tight ${component?.key === c.key ? "font-medium text-plum" : "group-hover:text-plum"}`}
                      >
                        {c.label}
                        {(glance.get(c.key)?.doubted.length ?? 0) > 0 && (
                          <span className="text-saffron" title="some sizes are doubted: measure them">
                            {" "}
                            ~
                          </span>
                        )}
                      </span>
                    </button>
                  </li>
                ))}
            </ul>
          </section>
        ))}
        {library && shown.length === 0 && (
          <p>Nothing in the library is called that. Measure it, or read it from a file.</p>
        )}
      </div>
      {component && (
        <ComponentSlip
          key={component.key}
          component={component}
          glance={glance.get(component.key)}
          kinds={library?.kinds ?? []}
          fresh={component.key === blank?.key && !glance.has(component.key)}
          onPlace={() => void place(component)}
          onPick={setPicked}
        />
      )}
    </div>
  );
}
