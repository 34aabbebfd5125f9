import { RadioGroup } from "radix-ui";

import { useOver } from "./over";
import { useAtOnce } from "./useAtOnce";

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly { value: T; label: string; hint?: string }[];
  onPick: (v: T) => void;
  hideLabel?: boolean;
  /** Picking is an edit of the design and nothing else: what a pointer rests on is looked at before it is picked. */
  tried?: boolean;
}

/** One of a few, all in sight. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onPick,
  hideLabel,
  tried = false,
}: Props<T>) {
  const { shown, sent, send } = useAtOnce(value);
  const over = useOver(tried);
  return (
    <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
      {!hideLabel && <span className="w-24 shrink-0 text-soft">{label}</span>}
      <RadioGroup.Root
        aria-label={label}
        value={shown}
        aria-busy={sent}
        onValueChange={(v) => {
          over.given();
          send(v as T);
          onPick(v as T);
        }}
        className="flex flex-wrap gap-x-0.5"
      >
        {options.map((o) => (
          <RadioGroup.Item
            key={o.value}
            value={o.value}
            title={o.hint}
            onPointerMove={(e) => {
              over.move(
                e,
                o.value,
                o.value === shown
                  ? null
                  : () => {
                      onPick(o.value);
                    },
              );
            }}
            onPointerLeave={over.leave}
            className={`cursor-pointer border-b-2 border-transparent px-2 py-0.5 text-soft hover:text-ink data-[state=checked]:border-plum ${sent ? "border-dashed" : ""} data-[state=checked]:font-medium data-[state=checked]:text-ink`}
          >
            {o.label}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
    </div>
  );
}
