import type { SheetProps } from "../../desk/sheetProps";
import { Choice } from "../../ui/Choice";
import { NumberField } from "../../ui/NumberField";

const WAYS = [
  { value: "none", label: "none" },
  { value: "x", label: "along the width" },
  { value: "y", label: "along the depth" },
] as const;

const SIZES = [
  ["grip_mm", "For the hand", 5],
  ["room_mm", "Under the bar", 1],
  ["bar_mm", "Bar, high", 1],
  ["deep_mm", "Bar, across", 1],
] as const;

type Handle = NonNullable<SheetProps["state"]["design"]["shell"]["handle"]>;

/** A handle on the top: which way it lies, its sizes, and where its middle is. */
export function HandleFields({ state, act }: SheetProps) {
  const now = state.design.shell.handle ?? null;
  const bow = state.view.case.handle;
  const lo = state.view.case.cavity[0];
  const change = (what: Partial<Handle>, said: string) => {
    void act.edit((s) => [{ do: "handle", handle: { ...s.design.shell.handle, ...what } as Handle }], said);
  };
  // where it stands if nobody has said: in the middle of the top
  const at = now?.at_mm ?? (bow ? [bow.middle[0]! - lo[0]!, bow.middle[1]! - lo[1]!] : null);
  return (
    <>
      <Choice
        tried
        label="Handle"
        value={now?.runs ?? "none"}
        options={WAYS}
        onPick={(v) => {
          if (v === "none") void act.edit([{ do: "handle", handle: null }], "no handle");
          else change({ runs: v }, v === "x" ? "a handle along the width" : "a handle along the depth");
        }}
      />
      {now && (
        <div
          className="flex basis-full flex-wrap gap-x-5 gap-y-1.5"
          role="group"
          aria-label="Sizes of the handle"
        >
          {SIZES.map(([field, label, step]) => (
            <NumberField
              tried
              key={field}
              label={label}
              step={step}
              value={now[field]!}
              onCommit={(v) => {
                change({ [field]: v }, `handle: ${label.toLowerCase()} ${v} mm`);
              }}
            />
          ))}
          {at &&
            (["From left", "From front"] as const).map((label, i) => (
              <NumberField
                tried
                key={label}
                label={label}
                value={at[i]!}
                onCommit={(v) => {
                  const to: [number, number] = [at[0]!, at[1]!];
                  to[i] = v;
                  change({ at_mm: to }, "move the handle");
                }}
              />
            ))}
        </div>
      )}
    </>
  );
}
