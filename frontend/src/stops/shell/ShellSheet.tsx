import { Slider } from "radix-ui";
import { useState } from "react";

import type { StateOut } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { useHeld } from "../../desk/useTried";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { type Construction, CONTROLS, type Given, NUT, NUT_BELOW, THREADS } from "./constructions";
import { ConstructionsTable } from "./ConstructionsTable";
import { FootFields } from "./FootFields";
import { HandleFields } from "./HandleFields";
import { HingeFields } from "./HingeFields";
import { RibFields } from "./RibFields";
import { PartsList } from "./PartsList";
import type { Look } from "./Camera";
import { Scene } from "./Scene";
import { SheetHeld } from "./SheetHeld";

const SHORT_LIST = 4; // parts whose list stays above the drawing

const FROM = ["from the side", "from the front", "from above"] as const;

/** The sections by where they are seen from as the case stands: across which axis of its own each of them is. */
function cuts(frame: StateOut["view"]["stands"]["frame"]) {
  const across = FROM.map((label, i) => ({
    value: (["x", "y", "z"] as const)[frame[i + 1]!.findIndex((c) => c !== 0)]!,
    label,
  }));
  return [{ value: "none", label: "whole" } as const, ...across];
}

/** The case in 3D: the very meshes that will be printed, opened along the ways its parts are put on, cut by a plane. */
export default function ShellSheet({ state, act }: SheetProps) {
  const [open, setOpen] = useState(0.35);
  const [axis, setAxis] = useState<"none" | "x" | "y" | "z">("none");
  const [at, setAt] = useState(0.5);
  const [look, setLook] = useState<Look>("corner");
  const [parts, setParts] = useState(true);
  const [chosen, setChosen] = useState<string | null>(null);
  const [comparing, setComparing] = useState(false);
  const s = state.design.shell;
  const there = useHeld(state) ?? state; // with the number that is being typed
  const outer = state.view.case.box_mm;
  const depth = axis === "none" ? 0 : outer[{ x: 0 as const, y: 1 as const, z: 2 as const }[axis]];
  const set = (field: string, value: number | string, said: string) =>
    void act.edit([{ do: "set", path: `shell.${field}`, value }], said);
  const setOwn = (field: string, value: Given | ((now: Construction) => Given), said: string) => {
    const path = `shell.construction.${field}`;
    void act.edit(
      (now) => [
        {
          do: "set",
          path,
          value: typeof value === "function" ? value(now.design.shell.construction) : value,
        },
      ],
      said,
    );
  };
  const { Numbers, Choices, top, corners } = CONTROLS[s.construction.kind];
  const inner = (i: number, v: number) => {
    void act.edit([{ do: "set", path: `shell.inner_mm.${i}`, value: v }], "size of the cavity");
  };
  if (comparing)
    return (
      <ConstructionsTable
        state={state}
        act={act}
        onClose={() => {
          setComparing(false);
        }}
      />
    );
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[minmax(18rem,1fr)_auto] overflow-y-auto">
      <div className="relative min-h-0">
        <Scene
          state={state}
          there={axis === "none" ? there : state} // the faces of a section are those of what is kept
          open={axis === "none" ? open : 0}
          cut={axis === "none" ? null : { axis, at: at * depth }}
          look={look}
          aside={state.view.case.parts.length > SHORT_LIST ? 264 : 0}
          parts={parts}
          chosen={state.view.case.parts.some((p) => p.name === chosen) ? chosen : null}
        />
        <div className="pointer-events-none absolute inset-x-4 top-3 flex flex-wrap items-start justify-between gap-y-1 [&>*]:pointer-events-auto">
          <div className="flex flex-wrap items-center gap-1">
            {(["corner", "front", "above", "back"] as const).map((l) => (
              <Button
                key={l}
                kind="quiet"
                aria-pressed={look === l}
                onClick={() => {
                  setLook(l);
                }}
              >
                {{ corner: "From the corner", front: "Front", above: "Above", back: "Behind" }[l]}
              </Button>
            ))}
            <label className="ml-2 flex items-center gap-1.5">
              <input
                type="checkbox"
                className="accent-(--plum)"
                checked={parts}
                onChange={(e) => {
                  setParts(e.target.checked);
                }}
              />
              components inside
            </label>
          </div>
          <div className="ml-auto flex flex-col items-end gap-1.5">
            <div className="flex items-baseline gap-3">
              <h2 className="font-head text-[15px]">{words(s.construction.kind)}</h2>
              <Button
                onClick={() => {
                  setComparing(true);
                }}
              >
                Other constructions
              </Button>
            </div>
            <div className="w-64 max-[900px]:w-56">
              <PartsList state={there} chosen={chosen} onChoose={setChosen} />
            </div>
          </div>
        </div>
        <div className="absolute right-4 bottom-3 left-4 flex items-end gap-8 max-[900px]:flex-wrap max-[900px]:gap-2">
          <div className="w-56">
            <p className="text-soft">
              Opened <span className="num">{brief(open * 100, 0)}</span> %
            </p>
            <Range
              label="Opened along the way its parts are put on"
              value={open}
              disabled={axis !== "none"}
              onChange={setOpen}
            />
          </div>
          <div className="flex-1">
            <Choice label="Section" value={axis} options={cuts(state.view.stands.frame)} onPick={setAxis} />
            {axis !== "none" && (
              <div className="flex items-center gap-3">
                <Range label="Place of the section" value={at} onChange={setAt} />
                <span className="num w-20 text-soft">{brief(at * depth, 1)} mm</span>
              </div>
            )}
          </div>
        </div>
      </div>
      <section
        aria-label="Numbers of the shell"
        className="grid grid-cols-[auto_auto_auto_minmax(0,1fr)] gap-x-5 max-[1180px]:grid-cols-3 max-[900px]:grid-cols-2 gap-y-1.5 border-t border-rule px-4 py-3"
      >
        <div className="space-y-1.5">
          <NumberField
            tried
            label="Wall"
            value={s.wall_mm}
            step={0.1}
            onCommit={(v) => {
              set("wall_mm", v, `wall ${v} mm`);
            }}
          />
          <NumberField
            tried
            label="Floor"
            value={s.floor_mm}
            step={0.2}
            onCommit={(v) => {
              set("floor_mm", v, `floor ${v} mm`);
            }}
          />
          {top && (
            <NumberField
              tried
              label={top}
              value={s.lid_mm}
              step={0.2}
              onCommit={(v) => {
                set("lid_mm", v, `${top.toLowerCase()} ${v} mm`);
              }}
            />
          )}
        </div>
        <div className="space-y-1.5">
          <NumberField
            tried
            label="Width inside"
            value={s.inner_mm[0]}
            onCommit={(v) => {
              inner(0, v);
            }}
          />
          <NumberField
            tried
            label="Depth inside"
            value={s.inner_mm[1]}
            onCommit={(v) => {
              inner(1, v);
            }}
          />
          <NumberField
            tried
            label="Height"
            value={s.inner_mm[2]}
            onCommit={(v) => {
              inner(2, v);
            }}
          />
        </div>
        <div className="space-y-1.5">
          <Numbers of={s.construction} set={setOwn} />
          {corners && (
            <NumberField
              tried
              label="Corners"
              value={s.corner_radius_mm}
              step={0.5}
              onCommit={(v) => {
                set("corner_radius_mm", v, `corners of ${v} mm`);
              }}
            />
          )}
        </div>
        <div className="space-y-1 max-[1180px]:col-span-full max-[1180px]:columns-2 max-[1180px]:[&>*]:break-inside-avoid">
          <ScrewsPlaced state={there} />
        </div>
        <div className="col-span-full flex flex-wrap gap-x-8 gap-y-1 border-t border-rule pt-1.5">
          <FootFields state={state} act={act} />
          <Choices of={s.construction} set={setOwn} />
          {state.view.case.parts.every((p) => p.name !== state.view.case.footed || !p.sheet) && (
            <Choice
              tried
              label="Post threads"
              value={s.post_thread}
              options={[...THREADS, NUT, NUT_BELOW]}
              onPick={(v) => {
                set("post_thread", v, `posts: ${v}`);
              }}
            />
          )}
          <SheetHeld state={state} act={act} />
          <HingeFields state={state} act={act} />
          <HandleFields state={state} act={act} />
          <RibFields state={state} act={act} />
        </div>
      </section>
    </div>
  );
}

function ScrewsPlaced({ state }: { state: SheetProps["state"] }) {
  const { joints, magnets, snaps, wanted_joints, held } = state.view.case;
  if (!wanted_joints) return null;
  return (
    <p className="text-soft">
      {snaps.length
        ? `${snaps.length} of ${wanted_joints} snaps have a place`
        : magnets.length
          ? `${joints.length} screws and ${magnets.length} pairs of magnets of ${wanted_joints} have a place`
          : `${joints.length} of ${wanted_joints} screws of the case have a place`}
      {joints.length + magnets.length + snaps.length < wanted_joints ? `; the ${held} wants more` : ""}.
    </p>
  );
}

/** A construction's name at the head of a line. */
function words(kind: string) {
  return kind.charAt(0).toUpperCase() + kind.slice(1);
}

function Range({
  label,
  value,
  onChange,
  disabled,
}: {
  label: string;
  value: number;
  onChange: (v: number) => void;
  disabled?: boolean;
}) {
  return (
    <Slider.Root
      className="relative flex h-5 w-full touch-none items-center data-disabled:opacity-40"
      min={0}
      max={1}
      step={0.005}
      value={[value]}
      disabled={disabled}
      onValueChange={([v]) => {
        onChange(v!);
      }}
    >
      <Slider.Track className="relative h-px flex-1 bg-ink/50">
        <Slider.Range className="absolute h-[2px] bg-plum" />
      </Slider.Track>
      <Slider.Thumb
        aria-label={label}
        className="block h-4 w-3 cursor-ew-resize border border-plum bg-leaf hover:bg-plumwash"
      />
    </Slider.Root>
  );
}
