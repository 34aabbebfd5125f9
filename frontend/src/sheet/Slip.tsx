import { useLayoutEffect, useRef, useState, type ReactNode } from "react";

export interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** `times`: how much worse than the drawing it is to cover it. */
export type Avoid = Box & { times?: number };

/** What a hand presses is not covered. */
export const BUTTONS = 1000;

interface Props {
  title: string;
  note?: string;
  /** The thing it belongs to, and what it should not cover. */
  beside: Box;
  avoid: Avoid[];
  /** The size of the sheet, so that the slip stays on it. */
  within: { w: number; h: number };
  onClose: () => void;
  children: ReactNode;
}

const WIDTH = 252;
const GAP = 14;
const OWN = 1000; // times as bad as to cover anything else

function covered(a: Box, b: Box): number {
  return (
    Math.max(0, Math.min(a.x + a.w, b.x + b.w) - Math.max(a.x, b.x)) *
    Math.max(0, Math.min(a.y + a.h, b.y + b.h) - Math.max(a.y, b.y))
  );
}

/** Where a card of height h covers least of the drawing; of equal places the nearest to its thing. */
function place(beside: Box, avoid: Avoid[], within: { w: number; h: number }, h: number): Box {
  const far = { x: within.w - WIDTH - GAP, y: within.h - h - GAP };
  const xs = [GAP, far.x, beside.x - WIDTH - GAP, beside.x + beside.w + GAP];
  const ys = [GAP, far.y, beside.y - h - GAP, beside.y, beside.y + beside.h + GAP];
  const cost = (c: Box) =>
    avoid.reduce((sum, a) => sum + (a.times ?? 1) * covered(c, a), OWN * covered(c, beside)) / 100 +
    Math.hypot(c.x + WIDTH / 2 - beside.x - beside.w / 2, c.y + h / 2 - beside.y - beside.h / 2) / 4;
  return xs
    .flatMap((x) => ys.map((y) => ({ x, y, w: WIDTH, h })))
    .map((c) => ({ ...c, x: Math.max(8, Math.min(c.x, far.x)), y: Math.max(8, Math.min(c.y, far.y)) }))
    .reduce((best, c) => (cost(c) < cost(best) ? c : best));
}

/** The small card near a selected thing, with its numbers; a thin line says whose it is. */
export function Slip({ title, note, beside, avoid, within, onClose, children }: Props) {
  const card = useRef<HTMLElement>(null);
  const [height, setHeight] = useState(320);
  useLayoutEffect(() => {
    if (!card.current) return;
    const watch = new ResizeObserver(([e]) => {
      setHeight(e!.borderBoxSize[0]!.blockSize);
    });
    watch.observe(card.current);
    return () => {
      watch.disconnect();
    };
  }, []);
  const at = place(beside, avoid, within, height);
  const from = [
    Math.max(at.x, Math.min(beside.x + beside.w / 2, at.x + WIDTH)),
    Math.max(at.y, Math.min(beside.y + beside.h / 2, at.y + height)),
  ] as const;
  const to = [
    Math.max(beside.x, Math.min(from[0], beside.x + beside.w)),
    Math.max(beside.y, Math.min(from[1], beside.y + beside.h)),
  ] as const;
  return (
    <>
      <svg aria-hidden className="pointer-events-none absolute inset-0 z-20 h-full w-full">
        <path
          d={`M${from[0]} ${from[1]}L${to[0]} ${to[1]}`}
          stroke="var(--plum)"
          strokeWidth="0.9"
          strokeDasharray="1 3"
          strokeLinecap="round"
        />
        <circle cx={to[0]} cy={to[1]} r="2.2" fill="var(--plum)" />
      </svg>
      <section
        ref={card}
        data-slip
        aria-label={`Slip: ${title}`}
        className="settle absolute z-30 max-h-[calc(100%-16px)] overflow-y-auto rounded-[4px] border border-ink/25 bg-leaf shadow-[0_6px_24px_rgb(35_27_46/0.14)]"
        style={{ left: at.x, top: at.y, width: WIDTH }}
      >
        <header className="flex items-baseline gap-2 border-b border-rule px-3 pt-2 pb-1.5">
          <h2 className="text-[14.5px]">{title}</h2>
          {note && <span className="min-w-0 flex-1 truncate text-[11.5px] text-soft">{note}</span>}
          <button
            type="button"
            aria-label="Close"
            onClick={onClose}
            className="ml-auto cursor-pointer px-1 text-soft hover:text-plum"
          >
            ×
          </button>
        </header>
        <div className="space-y-1.5 p-3">{children}</div>
      </section>
    </>
  );
}
