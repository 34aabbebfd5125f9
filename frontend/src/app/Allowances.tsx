import { Collapsible } from "radix-ui";
import { useState } from "react";

import type { OwnAllowance, Printer, Usual } from "../api/schema";
import { Button } from "../ui/Button";
import { NumberField } from "../ui/NumberField";

/** What coupons gave on this printer, by filament; where there is none, the table's figure holds. */
export function Allowances({
  printer: p,
  usual,
  filaments,
  change,
}: {
  printer: Printer;
  usual: readonly Usual[];
  filaments: readonly OwnAllowance["filament"][];
  change: (by: (now: Printer) => Partial<Printer>) => void;
}) {
  const [kind, setKind] = useState<OwnAllowance["filament"]>("PLA");
  const own = (what: string) => p.allowances.find((x) => x.feature === what && x.filament === kind);
  const without = (now: Printer, what: string) =>
    now.allowances.filter((x) => x.feature !== what || x.filament !== kind);
  return (
    <Collapsible.Root className="mt-3">
      <Collapsible.Trigger className="cursor-pointer border-b border-plum/50 text-soft hover:text-plum">
        Allowances{p.allowances.length > 0 && ` (${p.allowances.length} of its own)`}
      </Collapsible.Trigger>
      <Collapsible.Content className="mt-1.5 space-y-1">
        <p className="text-[12px] text-soft">
          Print a coupon (Print plan makes them) and put in what fitted: the openings of every design on this
          printer follow.
        </p>
        <select
          aria-label={`Filament of the allowances, ${p.name}`}
          value={kind}
          onChange={(e) => {
            setKind(e.target.value as OwnAllowance["filament"]);
          }}
          className="rounded-[3px] border border-rule bg-leaf px-1.5 py-0.5"
        >
          {filaments.map((f) => (
            <option key={f}>{f}</option>
          ))}
        </select>
        {usual.map((u) => {
          const set = own(u.what);
          return (
            <div key={u.what} className="flex items-baseline gap-1.5">
              <span className="min-w-0 flex-1 text-soft">
                {u.label}
                <span className="block text-[11px]">{u.unit}</span>
              </span>
              {set && (
                <Button
                  kind="quiet"
                  title="What the table says"
                  onClick={() => {
                    change((now) => ({ allowances: without(now, u.what) }));
                  }}
                >
                  Back to {u.value}
                </Button>
              )}
              <NumberField
                key={kind}
                label={`Allowance, ${u.label}, ${kind}, ${p.name}`}
                hideLabel
                narrow
                unit=""
                step={0.05}
                value={set?.mm ?? u.value}
                onCommit={(mm) => {
                  const entry = { filament: kind, feature: u.what as OwnAllowance["feature"], mm };
                  change((now) => ({ allowances: [...without(now, u.what), entry] }));
                }}
              />
            </div>
          );
        })}
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
