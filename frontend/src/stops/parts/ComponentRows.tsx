import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";

/** What a hand changed says so. */
export const HAND = { source: "changed by hand", mark: "measured" } as const;

/** A list of a component's things under the pen: each changed by its own row, one taken away, one added. */
export function Rows<T extends object>({
  title,
  items,
  add,
  fresh,
  least = 0,
  onSet,
  children,
}: {
  title: string;
  items: readonly T[];
  /** Words on the button, and what it adds. */
  add: string;
  fresh: () => T;
  /** So many must stay. */
  least?: number;
  onSet: (items: T[]) => void;
  children: (
    item: T,
    i: number,
    change: (c: Partial<T>) => void,
    away: (what: string) => React.ReactNode,
  ) => React.ReactNode;
}) {
  return (
    <>
      <h3 className="mt-4 mb-1">{title}</h3>
      <ul className="space-y-2">
        {items.map((item, i) => (
          <li key={i} className="border-l border-rule pl-2">
            {children(
              item,
              i,
              (c) => {
                onSet(items.map((x, k) => (k === i ? { ...x, ...c, ...HAND } : x)));
              },
              (what) => (
                <Away
                  what={what}
                  disabled={items.length <= least}
                  onPress={() => {
                    onSet(items.filter((_, k) => k !== i));
                  }}
                />
              ),
            )}
          </li>
        ))}
      </ul>
      <Button
        className="mt-2"
        onClick={() => {
          onSet([...items, fresh()]);
        }}
      >
        {add}
      </Button>
    </>
  );
}

type Vec = [number, number] | [number, number, number];

/** The same place with one of its numbers changed. */
function moved<V extends Vec>(at: V, k: number, v: number): V {
  const to = structuredClone(at);
  to[k] = v;
  return to;
}

/** Coordinates, mm. */
export function Place<V extends Vec>({ label, at, onSet }: { label: string; at: V; onSet: (at: V) => void }) {
  return (
    <>
      {at.map((v, k) => (
        <NumberField
          key={k}
          label={`${label} ${"xyz"[k]}`}
          hideLabel
          narrow
          unit=""
          step={0.1}
          value={v}
          onCommit={(x) => {
            onSet(moved(at, k, x));
          }}
        />
      ))}
    </>
  );
}

function Away({ what, disabled, onPress }: { what: string; disabled?: boolean; onPress: () => void }) {
  return (
    <button
      type="button"
      aria-label={`Take ${what} away`}
      disabled={disabled}
      className="cursor-pointer px-1 text-soft hover:text-vermilion disabled:opacity-40"
      onClick={onPress}
    >
      ×
    </button>
  );
}
