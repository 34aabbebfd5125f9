import { Popover } from "radix-ui";
import type { ReactNode } from "react";

import type { Trail } from "../api/schema";
import { amount } from "./number";

/** A number that can be asked why: formula, inputs, sources. */
export function Why({ trail, label, children }: { trail: Trail; label: string; children: ReactNode }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="cursor-help rounded-[2px] border-b border-dotted border-slate/60 text-left hover:border-plum">
        {children}
        <span className="sr-only">, why: {label}</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={label}
          sideOffset={6}
          collisionPadding={10}
          className="settle z-50 w-[21rem] rounded-[4px] border border-rule bg-leaf p-3 shadow-[0_8px_30px_rgb(35_27_46/0.16)]"
        >
          <h3 className="mb-1">{label}</h3>
          <p className="num mb-2 text-[12px] text-slate">{trail.formula}</p>
          <dl className="grid grid-cols-[1fr_auto] gap-x-3 text-[12.5px]">
            {trail.inputs.map((i) => (
              <div key={i.name} className="contents">
                <dt>
                  {i.name}
                  {i.source && <span className="block text-[11px] leading-tight text-soft">{i.source}</span>}
                </dt>
                <dd className="num text-right">{amount(i.value, i.unit, 3)}</dd>
              </div>
            ))}
          </dl>
          {trail.source && (
            <p className="mt-2 border-t border-rule pt-1.5 text-[11.5px] text-soft">{trail.source}</p>
          )}
          <Popover.Arrow className="fill-rule" />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
