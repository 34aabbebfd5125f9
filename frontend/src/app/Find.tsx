import { Popover } from "radix-ui";
import { useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router";

import { STOPS, type StopKey } from "./stops";
import { useLibrary } from "../stops/parts/useLibrary";
import { useConcerns } from "../desk/useConcerns";
import { useWorkshop } from "../desk/useWorkshop";
import type { SheetProps } from "../desk/sheetProps";

interface Deed {
  label: string;
  hint: string;
  run: () => void;
}

/** Search and do: every stop, thing, remedy and choice by its name. */
export function Find({ state, act, here }: SheetProps & { here: StopKey }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const go = useNavigate();
  const library = useLibrary().data?.components;
  const shop = useWorkshop().data;
  const { concerns, looked } = useConcerns(state);
  const workshop = shop?.workshop;

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "k") {
        e.preventDefault();
        setOpen((o) => !o);
      }
    };
    // on the way in: fields keep their keys to themselves on the way out
    window.addEventListener("keydown", onKey, true);
    return () => {
      window.removeEventListener("keydown", onKey, true);
    };
  }, []);

  const deeds = useMemo<Deed[]>(() => {
    const to = (stop: string) => () => void go(`/designs/${state.id}/${stop}`);
    return [
      ...STOPS.filter((s) => s.key !== here).map((s) => ({ label: s.label, hint: "go to", run: to(s.key) })),
      ...(looked === "not yet" ? [] : concerns).flatMap((c) =>
        c.remedies.map((r) => ({
          label: r.label,
          hint: c.title,
          run: () => void act.remedy(r),
        })),
      ),
      ...state.view.things.map((t) => ({
        label: t.name,
        hint: "select on the bench",
        run: () => void go(`/designs/${state.id}/bench`, { state: { select: [t.id] } }),
      })),
      {
        label: "Draw the walls round the components",
        hint: "shell",
        run: () => void act.edit([state.view.walls_round], "draw the walls round the components"),
      },
      { label: "Open the workshop", hint: "printers and spools", run: () => void go("/workshop") },
      { label: "Undo", hint: "Ctrl Z", run: () => void act.step("undo") },
      { label: "Redo", hint: "Ctrl Shift Z", run: () => void act.step("redo") },
      ...(workshop?.printers ?? []).map((p) => ({
        label: `Print on ${p.name}`,
        hint: `bed ${p.bed_mm[0]} × ${p.bed_mm[1]}, nozzle ${p.nozzle_mm}`,
        run: () => void act.edit([{ do: "set", path: "printer", value: p.key }]),
      })),
      ...(shop?.filaments ?? []).map((f) => ({
        label: `Print it in ${f}`,
        hint: "filament",
        run: () => void act.edit([{ do: "set", path: "process.filament", value: f }]),
      })),
      ...(library ?? []).map((c) => ({
        label: `Add ${c.label}`,
        hint: "from the library",
        run: () => void act.edit([{ do: "place", component: c.key, custom: null }], `add ${c.label}`),
      })),
    ];
  }, [state, concerns, looked, act, go, here, shop, workshop, library]);

  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = deeds
    .filter((d) => words.every((w) => `${d.label} ${d.hint}`.toLowerCase().includes(w)))
    .slice(0, 12);
  const pick = (d: Deed | undefined) => {
    if (!d) return;
    setOpen(false);
    setText("");
    d.run();
  };

  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="flex w-52 cursor-pointer items-center justify-between rounded-[3px] border border-rule bg-leaf px-2.5 py-1 text-soft hover:border-plum max-[1180px]:w-40">
        Search and do <kbd className="num text-[11px]">Ctrl K</kbd>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          aria-label="Search and do"
          className="settle z-50 w-[26rem] rounded-[4px] border border-rule bg-leaf p-2 shadow-[0_8px_30px_rgb(35_27_46/0.16)]"
        >
          <input
            role="combobox"
            aria-label="Search and do"
            aria-expanded="true"
            aria-controls="found"
            aria-activedescendant={found.length ? `found-${at}` : undefined}
            autoFocus
            value={text}
            placeholder="A stop, a thing, a remedy, a printer …"
            onChange={(e) => {
              setText(e.target.value);
              setAt(0);
            }}
            onKeyDown={(e) => {
              if (e.key === "ArrowDown" || e.key === "ArrowUp") {
                e.preventDefault();
                const n = Math.max(1, found.length);
                setAt((a) => (a + (e.key === "ArrowDown" ? 1 : n - 1)) % n);
              }
              if (e.key === "Enter") pick(found[at]);
            }}
            className="mb-1 w-full rounded-[3px] border border-rule bg-paper px-2.5 py-1.5"
          />
          <ul id="found" role="listbox" aria-label="Found">
            {found.map((d, i) => (
              <li
                key={`${d.label} ${d.hint}`}
                id={`found-${i}`}
                role="option"
                aria-selected={i === at}
                onClick={() => {
                  pick(d);
                }}
                onMouseMove={() => {
                  setAt(i);
                }}
                className={`flex cursor-pointer items-baseline justify-between gap-3 rounded-[2px] px-2.5 py-1 ${i === at ? "bg-plumwash text-plum" : ""}`}
              >
                <span className="max-w-[72%] shrink-0">{d.label}</span>
                <span className={`truncate text-[11.5px] ${i === at ? "text-plum" : "text-soft"}`}>
                  {d.hint}
                </span>
              </li>
            ))}
          </ul>
          {found.length === 0 && <p className="px-2.5 py-1 text-soft">Nothing of that name.</p>}
          {looked !== "done" && (
            <p role="status" className="mt-1 border-t border-rule px-2.5 pt-1.5 text-[11.5px] text-soft">
              {looked === "failed"
                ? "Remedies could not be looked for; the next change looks again."
                : "Looking for remedies …"}
            </p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
