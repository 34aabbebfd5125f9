import type { SheetProps } from "../../desk/sheetProps";
import { useHeld } from "../../desk/useTried";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";
import { Button } from "../../ui/Button";
import { Tick } from "../../ui/Tick";
import { Wishes } from "./Wishes";

const OPENED = [
  { value: "once", label: "once" },
  { value: "yearly", label: "yearly" },
  { value: "monthly", label: "monthly" },
  { value: "weekly", label: "weekly" },
] as const;
const STANDS = [
  { value: "desk", label: "on a desk" },
  { value: "shelf", label: "on a shelf" },
  { value: "wall", label: "on a wall" },
  { value: "carried", label: "carried about" },
] as const;

const SUNS = [
  { value: "none", label: "no" },
  { value: "window", label: "through a window" },
  { value: "outdoors", label: "outdoors" },
] as const;
const SKILLS = [
  { value: "1", label: "a beginner" },
  { value: "2", label: "someone at home with it" },
  { value: "3", label: "an old hand" },
] as const;

/** A page of plain questions with what follows from each answer, and the wishes with their ticks. */
export function BriefSheet({ state, act }: SheetProps) {
  const { brief } = state.design;
  const set = (field: string, value: string | number | number[] | null, said: string) =>
    void act.edit([{ do: "set", path: `brief.${field}`, value }], said);
  const wishes = state.view.wishes;
  const there = (useHeld(state) ?? state).view; // with the number that is being typed
  const limit = brief.size_limit_mm;
  return (
    <div className="h-full overflow-y-auto" tabIndex={0} role="region" aria-label="Brief">
      <div className="mx-auto max-w-3xl px-8 py-7">
        <h2 className="mb-5 text-2xl">What {state.design.name} is for</h2>
        <section className="space-y-5">
          <Question asks="How often will it be opened?" follows={there.follows.opened!}>
            <Choice
              tried
              label="Opened"
              hideLabel
              value={brief.opened}
              options={OPENED}
              onPick={(v) => {
                set("opened", v, `opened ${v}`);
              }}
            />
          </Question>
          <Question asks="Where will it stand?" follows={there.follows.stands!}>
            <Choice
              tried
              label="Stands"
              hideLabel
              value={brief.stands}
              options={STANDS}
              onPick={(v) => {
                set("stands", v, `stands: ${v}`);
              }}
            />
          </Question>
          <Question asks="Does the sun reach it?" follows={there.follows.sun!}>
            <Choice
              tried
              label="Sun"
              hideLabel
              value={brief.sun}
              options={SUNS}
              onPick={(v) => {
                set("sun", v, `sun: ${v}`);
              }}
            />
          </Question>
          <Question asks="Who prints it?" follows={there.follows.skill!}>
            <Choice
              tried
              label="Skill"
              hideLabel
              value={String(brief.skill)}
              options={SKILLS}
              onPick={(v) => {
                set("skill", Number(v), `printed by someone of skill ${v}`);
              }}
            />
          </Question>
          <Question
            asks="How warm does the room get?"
            follows={`The warmest wall will then be about ${there.ladder.wall_c.value.toFixed(0)} °C; ${state.design.process.filament} bears ${there.bears.value.toFixed(0)} °C.`}
          >
            <NumberField
              tried
              label="Room"
              hideLabel
              unit="°C"
              value={brief.room_c}
              onCommit={(v) => {
                set("room_c", v, `room ${v} °C`);
              }}
            />
          </Question>
          <Question
            asks="How large may it be?"
            follows={
              limit
                ? `It measures ${there.stands.over_all_mm.map((v) => v.toFixed(1)).join(" × ")} mm now.`
                : "No limit set; the smallest that stays cool and can be assembled is best."
            }
          >
            {limit ? (
              <div className="flex flex-wrap items-center gap-2">
                {["width", "depth", "height"].map((n, i) => (
                  <NumberField
                    tried
                    key={n}
                    label={n}
                    hideLabel
                    value={limit[i]!}
                    onCommit={(v) => {
                      const next = [...limit];
                      next[i] = v;
                      set("size_limit_mm", next, "size limit");
                    }}
                  />
                ))}
                <Button
                  kind="quiet"
                  onClick={() => {
                    set("size_limit_mm", null, "no size limit");
                  }}
                >
                  No limit
                </Button>
              </div>
            ) : (
              <Button
                onClick={() => {
                  set(
                    "size_limit_mm",
                    state.view.stands.over_all_mm.map((v) => Math.ceil(v)),
                    "size limit",
                  );
                }}
              >
                Set a limit
              </Button>
            )}
          </Question>
        </section>
        <Wishes state={state} act={act} />
        <h2 className="mt-9 mb-1 text-lg">Ports within reach</h2>
        <p className="mb-3 text-soft">
          Tick what must be reached from outside. Each gets an opening with its allowance.
        </p>
        {wishes.length === 0 && (
          <p>No component with ports is on the bench yet. Add a board from the library of Parts.</p>
        )}
        <ul className="divide-y divide-rule border-y border-rule">
          {wishes.map((w) => (
            <li key={w.port} className="flex items-baseline gap-3">
              <label className="flex flex-1 cursor-pointer items-baseline gap-3 py-1.5">
                <Tick
                  tried
                  checked={w.needed}
                  onTick={(on) =>
                    void act.edit(
                      [{ do: "need", port: w.port, needed: on }],
                      `${w.name} ${on ? "needed" : "not needed"}`,
                    )
                  }
                />
                <span className="w-40 font-medium">
                  {w.kind} <span className="font-normal text-soft">({w.name})</span>
                </span>
                <span className="w-24 text-soft">{w.thing}</span>
                <span
                  className={
                    w.state === "met"
                      ? "text-verdigris"
                      : w.state === "unmet"
                        ? "text-vermilion"
                        : "text-soft"
                  }
                >
                  {w.state === "met"
                    ? `met, ${w.face} face`
                    : w.state === "unmet"
                      ? `unmet: ${w.why}`
                      : "not asked for"}
                </span>
              </label>
              {w.needed && (
                <select
                  aria-label={`${w.name} of ${w.thing}: wanted on`}
                  value={w.wanted_face ?? ""}
                  className="rounded-[3px] border border-rule bg-leaf px-1 py-0.5"
                  onChange={(e) =>
                    void act.edit(
                      [
                        {
                          do: "want-face",
                          port: w.port,
                          face: (e.target.value || null) as typeof w.wanted_face,
                        },
                      ],
                      `${w.name} wanted on ${e.target.value || "any face"}`,
                    )
                  }
                >
                  <option value="">on any face</option>
                  {(["front", "back", "left", "right"] as const).map((f) => (
                    <option key={f} value={f}>
                      on the {f}
                    </option>
                  ))}
                </select>
              )}
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}

function Question({ asks, follows, children }: { asks: string; follows: string; children: React.ReactNode }) {
  return (
    <div className="grid grid-cols-[15rem_1fr] gap-x-6 gap-y-0.5">
      <h3 className="text-[15px] font-medium">{asks}</h3>
      <div>
        {children}
        <p className="mt-0.5 text-soft">{follows}</p>
      </div>
    </div>
  );
}
