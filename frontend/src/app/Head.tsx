import { Popover } from "radix-ui";
import { useEffect, useState } from "react";
import { Link } from "react-router";

import type { StateOut } from "../api/schema";
import { Button } from "../ui/Button";
import { Find } from "./Find";
import { Help } from "./Help";
import { useRevisions } from "./useRevisions";
import { TakeHome } from "./TakeHome";
import type { StopKey } from "./stops";
import type { SheetProps } from "../desk/sheetProps";

const CARD =
  "settle z-50 max-h-[70vh] overflow-y-auto rounded-[4px] border border-rule bg-leaf p-3 shadow-[0_8px_30px_rgb(35_27_46/0.16)]";

/** Name and revision, undo and redo, search-and-do, taking home. */
export function Head({ state, act, here }: SheetProps & { here: StopKey }) {
  const [night, setNight] = useState(() => localStorage.getItem("theme") === "night");
  useEffect(() => {
    document.documentElement.dataset.theme = night ? "night" : "day";
    localStorage.setItem("theme", night ? "night" : "day");
  }, [night]);
  return (
    <header className="col-span-3 flex items-center gap-2 border-b border-rule px-3.5 max-[900px]:flex-wrap max-[900px]:py-1.5">
      <Link
        to="/?shelf"
        className="flex items-center gap-1.5 font-head text-[17px] font-bold"
        title="All designs"
      >
        <svg viewBox="0 0 22 24" width="17" height="19" aria-hidden>
          <path d="M11 1 20.500 12 11 23 1.500 12Z" fill="var(--plum)" />
          <path d="M11 7 15.300 12 11 17 6.700 12Z" fill="var(--paper)" />
        </svg>
        Rhombex
      </Link>
      <span aria-hidden className="mx-1.5 h-5 w-px bg-rule" />
      <Name state={state} act={act} />
      <Revisions state={state} act={act} />
      <Button kind="quiet" disabled={!state.can_undo} onClick={() => void act.step("undo")} title="Ctrl Z">
        Undo
      </Button>
      <Button
        kind="quiet"
        disabled={!state.can_redo}
        onClick={() => void act.step("redo")}
        title="Ctrl Shift Z"
      >
        Redo
      </Button>
      <div className="flex-1" />
      <Find state={state} act={act} here={here} />
      <Button
        kind="quiet"
        aria-pressed={night}
        onClick={() => {
          setNight(!night);
        }}
      >
        {night ? "Day" : "Night shop"}
      </Button>
      <Link to="/workshop" className="rounded-[3px] px-2.5 py-1 leading-5 hover:bg-leaf hover:text-plum">
        Workshop
      </Link>
      <Help />
      <TakeHome state={state} />
    </header>
  );
}

function Name({ state, act }: SheetProps) {
  const [text, setText] = useState<string | null>(null);
  const done = () => {
    const name = text?.trim();
    setText(null);
    if (name && name !== state.design.name) void act.edit([{ do: "set", path: "name", value: name }]);
  };
  return (
    <input
      aria-label="Name of the design"
      value={text ?? state.design.name}
      maxLength={60}
      size={Math.max(5, (text ?? state.design.name).length)}
      onChange={(e) => {
        setText(e.target.value);
      }}
      onBlur={done}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
      }}
      className="rounded-[3px] border border-transparent bg-transparent px-1 font-head text-[16px] font-semibold hover:border-rule"
    />
  );
}

function Revisions({ state, act }: SheetProps) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button kind="quiet" className="text-soft">
          revision <span className="num">{state.revision}</span>
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content aria-label="Revisions" align="start" sideOffset={6} className={`${CARD} w-[22rem]`}>
          <form
            className="mb-3 flex gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              void act.keep(state.revision, name.trim() || `revision ${state.revision}`).then(() => {
                setName("");
                setOpen(false);
              });
            }}
          >
            <input
              aria-label="Name to keep this revision under"
              placeholder="Keep this revision as …"
              value={name}
              maxLength={60}
              onChange={(e) => {
                setName(e.target.value);
              }}
              className="min-w-0 flex-1 rounded-[3px] border border-rule bg-paper px-2 py-1"
            />
            <Button type="submit" kind="main">
              Keep
            </Button>
          </form>
          <Steps state={state} act={act} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Steps({ state, act }: { state: StateOut; act: SheetProps["act"] }) {
  const steps = useRevisions(state.id, state.version);
  return (
    <ol aria-label="Revisions" className="divide-y divide-rule">
      {steps.rows.map((s) => (
        <li key={s.number} className="flex items-baseline gap-2">
          <button
            type="button"
            aria-current={s.current ? "true" : undefined}
            onClick={() => void act.goTo(s.number)}
            className={`flex min-w-0 flex-1 cursor-pointer items-baseline gap-2 py-1 text-left hover:text-plum ${s.current ? "font-medium text-plum" : ""}`}
          >
            <span className="num w-7 text-right text-soft">{s.number}</span>
            <span className="min-w-0 flex-1">{s.said}</span>
            {s.kept_name && <span className="text-[11.5px] text-verdigris">{s.kept_name}</span>}
          </button>
          {!s.current && (
            <Link
              className="text-[11.5px] text-soft underline hover:text-plum"
              aria-label={`Compare with revision ${s.number}`}
              to={`/designs/${state.id}/beside?revision=${s.number}`}
            >
              compare
            </Link>
          )}
        </li>
      ))}
      {steps.more && (
        <li className="pt-1.5">
          <Button onClick={steps.older}>Older revisions</Button>
        </li>
      )}
    </ol>
  );
}
