import type { Ask } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { useHeld } from "../../desk/useTried";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";
import { Tick } from "../../ui/Tick";
import { useLibrary } from "../parts/useLibrary";

const AROUND = [
  { value: "adults", label: "adults only" },
  { value: "children", label: "children" },
  { value: "animals", label: "animals" },
] as const;
const WINDOWS = (["none", "front", "back", "left", "right", "top"] as const).map((v) => ({
  value: v,
  label: v === "none" ? "no window" : v,
}));
const SIGN: Record<Ask["state"], string> = {
  met: "text-verdigris",
  unmet: "text-vermilion",
  "cannot tell yet": "text-saffron",
};

/** The wishes that are no ports: asked for here, each with what the design makes of it. */
export function Wishes({ state, act }: SheetProps) {
  const { brief } = state.design;
  const { asks } = (useHeld(state) ?? state).view; // with the number that is being typed
  const set = (field: string, value: string | number | boolean | string[] | null, said: string) =>
    void act.edit([{ do: "set", path: `brief.${field}`, value }], said);
  const library = useLibrary().data;
  const reuse = brief.reuse ?? [];
  const labels = new Map((library?.components ?? []).map((c) => [c.key, c.label]));
  return (
    <>
      <h2 className="mt-9 mb-2 text-lg">Other wishes</h2>
      <div className="space-y-2">
        <Choice
          tried
          label="Around it"
          value={brief.around ?? "adults"}
          options={AROUND}
          onPick={(v) => {
            set("around", v, `around it: ${v}`);
          }}
        />
        <Choice
          tried
          label="Window"
          value={brief.window ?? "none"}
          options={WINDOWS}
          onPick={(v) => {
            set("window", v === "none" ? null : v, v === "none" ? "no window" : `window in the ${v}`);
          }}
        />
        <div className="flex flex-wrap items-baseline gap-x-6 gap-y-2">
          <NumberField
            tried
            label="Buttons"
            inRow
            narrow
            unit=""
            min={0}
            value={brief.buttons ?? 0}
            onCommit={(v) => {
              set("buttons", Math.min(20, Math.round(v)), `${Math.round(v)} buttons`);
            }}
          />
          <NumberField
            tried
            label="Budget for filament (0: none set)"
            inRow
            narrow
            unit="EUR"
            min={0}
            value={brief.budget ?? 0}
            onCommit={(v) => {
              set("budget", v > 0 ? v : null, v > 0 ? `a budget of ${v}` : "no budget");
            }}
          />
          <label className="flex items-center gap-1.5 text-soft">
            <Tick
              tried
              checked={brief.display ?? false}
              onTick={(on) => {
                set("display", on, on ? "a display" : "no display");
              }}
            />
            a display
          </label>
        </div>
        <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
          <label className="flex items-baseline gap-2 text-soft">
            Must be used again
            <select
              value=""
              className="rounded-[3px] border border-rule bg-leaf px-1 py-0.5 text-ink"
              onChange={(e) => {
                if (e.target.value)
                  set("reuse", [...reuse, e.target.value], `${labels.get(e.target.value)} must go in`);
              }}
            >
              <option value="">choose from the library</option>
              {[...labels]
                .filter(([k]) => !reuse.includes(k))
                .sort((a, b) => a[1].localeCompare(b[1], "en", { numeric: true }))
                .map(([k, label]) => (
                  <option key={k} value={k}>
                    {label}
                  </option>
                ))}
            </select>
          </label>
          {reuse.map((k) => (
            <span key={k} className="rounded-[3px] border border-rule px-1.5">
              {labels.get(k) ?? k}{" "}
              <button
                type="button"
                aria-label={`Not ${labels.get(k) ?? k} after all`}
                className="cursor-pointer text-soft hover:text-vermilion"
                onClick={() => {
                  set(
                    "reuse",
                    reuse.filter((x) => x !== k),
                    `${labels.get(k) ?? k} need not go in`,
                  );
                }}
              >
                ×
              </button>
            </span>
          ))}
        </div>
      </div>
      {asks.length > 0 && (
        <ul
          className="mt-3 divide-y divide-rule border-y border-rule"
          aria-label="What becomes of the wishes"
        >
          {asks.map((a) => (
            <li key={a.key} className="flex items-baseline gap-3 py-1.5">
              <span className="w-60 font-medium">{a.wish}</span>
              <span className={SIGN[a.state]}>
                {a.state}: {a.finding}
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
