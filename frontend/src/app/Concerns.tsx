import { useEffect, useRef, useState } from "react";

import type { Effect, Finding, Remedy } from "../api/schema";
import { amount } from "../ui/number";
import { Rhomb } from "../ui/Rhomb";
import { Why } from "../ui/Why";
import { goneConcerns, useUi } from "../desk/desk";
import { merged, useConcerns } from "../desk/useConcerns";
import type { SheetProps } from "../desk/sheetProps";
import { moves, useEffectOf } from "../desk/useEffectOf";
import { useHeld } from "../desk/useTried";

/** What is wrong or worth weighing, worst first. While a hand holds something, what would be, let go there: nothing opens or can be pressed. */
export function Concerns({ state, act }: SheetProps) {
  const mended = useUi((s) => s.mended);
  const held = useHeld(state);
  const { concerns: now, looked } = useConcerns(state);
  // they keep the room of their remedies, so that nothing jumps under a hand
  const concerns = held ? merged(held.view.concerns, now, false) : now;
  const [open, setOpen] = useState<string | null>(null);
  const aside = useRef<HTMLElement>(null);
  const pressed = useRef(false);
  useEffect(() => {
    // a remedy that was pressed is gone: whoever goes by keys stays where it was, at the concern that is open then
    if (!pressed.current || aside.current?.contains(document.activeElement)) return;
    pressed.current = false;
    if (document.activeElement === document.body)
      (aside.current?.querySelector<HTMLElement>("[aria-expanded=true]") ?? aside.current)?.focus();
  }, [now]);
  const shown = now.some((c) => c.key === open)
    ? open
    : (now.find((c) => c.severity !== "advice")?.key ?? null);
  const serious = concerns.filter((c) => c.severity !== "advice");
  const advice = concerns.filter((c) => c.severity === "advice");
  const going = now.filter((c) => c.severity !== "advice" && !concerns.some((x) => x.key === c.key));
  const item = (c: Finding) => (
    <Concern
      key={c.key}
      concern={c}
      state={state}
      act={act}
      open={c.key === shown}
      looked={held ? "held" : looked}
      comes={!now.some((x) => x.key === c.key)}
      onPress={() => {
        pressed.current = true;
      }}
      onOpen={() => {
        setOpen(c.key);
        useUi.getState().select(c.subjects.filter((s) => state.view.things.some((t) => t.id === s)));
      }}
    />
  );
  return (
    <aside
      ref={aside}
      aria-label="Concerns"
      className="min-h-0 overflow-y-auto border-l border-rule px-3.5 py-3"
      tabIndex={0}
    >
      <h2 className="mb-2 flex items-baseline justify-between text-[15px]">
        Concerns
        <span className="num text-[12px] font-normal text-soft" aria-live="polite">
          {serious.length > 0
            ? `${serious.length} open${held ? " here" : ""}`
            : state.view.begun.includes("plan")
              ? `none open${held ? " here" : ""}`
              : "not begun"}
        </span>
      </h2>
      <ul>
        {goneConcerns(mended).map((c) => (
          <li key={`gone-${c.key}`} aria-hidden className="mended flex gap-2 border-b border-rule py-2">
            <Rhomb severity={c.severity} /> <s>{c.title}</s>
          </li>
        ))}
        {serious.map(item)}
        {going.map((c) => (
          <li key={`going-${c.key}`} className="flex gap-2 border-b border-rule py-2 text-soft">
            <Rhomb severity={c.severity} /> <s>{c.title}</s>
          </li>
        ))}
      </ul>
      {serious.length === 0 && !held && (
        <p className="mt-2 border-l-2 border-verdigris py-1 pl-3">
          {state.view.begun.includes("plan")
            ? "No open concerns. Look at the Print plan, then export the files."
            : "Nothing to look at yet. Add a board from the library under Parts."}
        </p>
      )}
      {advice.length > 0 && (
        <>
          <h3 className="mt-5 mb-1 text-[13px] text-soft">Cautions</h3>
          <ul>{advice.map(item)}</ul>
        </>
      )}
    </aside>
  );
}

function Concern({
  concern: c,
  state,
  act,
  open,
  looked,
  comes,
  onOpen,
  onPress,
}: SheetProps & {
  concern: Finding;
  open: boolean;
  /** Whether its remedies were looked for; not while a hand holds something: then they can only be read. */
  looked: "done" | "not yet" | "failed" | "held";
  comes: boolean;
  onOpen: () => void;
  onPress: () => void;
}) {
  return (
    <li className="settle border-b border-rule py-2">
      <button
        type="button"
        aria-expanded={open}
        onClick={onOpen}
        className="flex w-full cursor-pointer gap-2 text-left hover:text-plum"
      >
        <span className="pt-0.5">
          <Rhomb severity={c.severity} />
        </span>
        <span className={open ? "font-medium" : ""}>
          {c.title}{" "}
          {comes && <span className="ml-0.5 text-[11px] whitespace-nowrap text-vermilion">new here</span>}
        </span>
      </button>
      {open && (
        <div className="mt-1.5 ml-[22px]">
          {c.severity !== "advice" && <Measure concern={c} />}
          <p className="mt-1.5">{c.reason}</p>
          <p className="mt-1 text-[11.5px] text-soft">{c.source}</p>
          {c.remedies.map((r) =>
            looked === "not yet" || looked === "held" ? (
              <p key={r.label} className="mt-2 border border-transparent px-2.5 pt-1 pb-[1.4rem] text-soft">
                {r.label}
              </p>
            ) : (
              <RemedyButton key={r.label} concern={c} remedy={r} state={state} act={act} onPress={onPress} />
            ),
          )}
          {looked === "not yet" && c.severity !== "advice" && c.remedies.length === 0 && (
            <p className="late mt-2 text-soft">looking for a remedy …</p>
          )}
          {looked === "failed" && (
            <p className="mt-2 text-soft">Remedies could not be looked for; the next change looks again.</p>
          )}
        </div>
      )}
    </li>
  );
}

/** Let the sheet draw what edits would do. */
function haunt(ghost: Remedy["edits"]) {
  useUi.setState({ ghost });
}

/** The measured number against its limit: a rule with the limit as a notch. */
function Measure({ concern: c }: { concern: Finding }) {
  const top = Math.max(Math.abs(c.measured), Math.abs(c.limit), 1e-6) * 1.15;
  const lo = Math.min(0, c.measured, c.limit) * 1.15;
  const x = (v: number) => ((v - lo) / (top - lo)) * 200;
  const tone = c.severity === "stop" ? "var(--vermilion)" : "var(--saffron)";
  return (
    <div>
      <p className="num text-[12.5px]">
        <Why trail={c.why} label={c.title}>
          <span className={c.severity === "stop" ? "text-vermilion" : "text-saffron"}>
            {amount(c.measured, c.unit)}
          </span>
        </Why>
        <span className="text-soft">
          {" "}
          · limit: {c.sense} {amount(c.limit, c.unit)}
        </span>
      </p>
      <svg viewBox="0 0 200 12" className="mt-0.5 block h-3 w-full" aria-hidden preserveAspectRatio="none">
        <line x1="0" x2="200" y1="8" y2="8" stroke="var(--rule)" />
        <line x1={x(0)} x2={x(c.measured)} y1="8" y2="8" stroke={tone} strokeWidth="3" />
        <path
          d={`M${x(c.limit)} 11V1`}
          stroke="var(--ink)"
          strokeWidth="1.2"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
    </div>
  );
}

function RemedyButton({
  concern,
  remedy,
  state,
  act,
  onPress,
}: SheetProps & { concern: Finding; remedy: Remedy; onPress: () => void }) {
  const effect = useEffectOf(state, concern.key, remedy);
  return (
    <div className="mt-2">
      <button
        type="button"
        onClick={() => {
          haunt([]);
          onPress();
          void act.remedy(remedy);
        }}
        onPointerEnter={() => {
          haunt(remedy.edits);
        }}
        onPointerLeave={() => {
          haunt([]);
        }}
        onFocus={() => {
          haunt(remedy.edits);
        }}
        onBlur={() => {
          haunt([]);
        }}
        className="w-full cursor-pointer rounded-[3px] border border-plum/40 bg-plumwash px-2.5 py-1 text-left font-medium text-plum transition-colors hover:border-plum"
      >
        {remedy.label}
      </button>
      <p className="mt-0.5 min-h-[1.1rem] pl-0.5 text-[11.5px] text-soft" aria-live="polite">
        {effect.data ? (
          <EffectLine effect={effect.data} />
        ) : effect.isError ? (
          "could not be tried"
        ) : (
          "trying it …"
        )}
      </p>
    </div>
  );
}

function EffectLine({ effect }: { effect: Effect }) {
  if (effect.refused) return <span className="text-vermilion">not possible: {effect.refused}</span>;
  return (
    <>
      <span className={effect.clears ? "text-verdigris" : "text-saffron"}>
        {effect.clears ? "resolves it" : "does not resolve it alone"}
      </span>
      {effect.gone.length > 1 && `, and ${effect.gone.length - 1} more`}
      {effect.tally.length > 0 && ` · ${moves(effect).join(" · ")}`}
      {effect.new.length > 0 && <span className="text-saffron"> · brings: {effect.new.join("; ")}</span>}
    </>
  );
}

/** The worst severity among concerns about a thing, for marking it on a sheet. */
