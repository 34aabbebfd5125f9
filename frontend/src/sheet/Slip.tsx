import type { ReactNode } from "react";

interface Props {
  title: string;
  note?: string;
  x: number;
  y: number;
  /** The size of the sheet, so that the slip stays on it. */
  within: { w: number; h: number };
  onClose: () => void;
  children: ReactNode;
}

const WIDTH = 252;

/** The small card beside a selected thing, with its numbers. */
export function Slip({ title, note, x, y, within, onClose, children }: Props) {
  const left = Math.min(Math.max(8, x), Math.max(8, within.w - WIDTH - 8));
  const top = Math.min(Math.max(8, y), Math.max(8, within.h - 300));
  return (
    <section
      aria-label={`Slip: ${title}`}
      className="settle absolute z-30 max-h-[calc(100%-16px)] overflow-y-auto rounded-[4px] border border-ink/25 bg-leaf shadow-[0_6px_24px_rgb(35_27_46/0.14)]"
      style={{ left, top, width: WIDTH }}
    >
      <header className="flex items-baseline gap-2 border-b border-rule px-3 pt-2 pb-1.5">
        <h2 className="text-[14.5px]">{title}</h2>
        {note && <span className="min-w-0 flex-1 truncate text-[11.5px] text-soft">{note}</span>}
        <button
          type="button"
          aria-label="Put the slip away"
          onClick={onClose}
          className="ml-auto cursor-pointer px-1 text-soft hover:text-plum"
        >
          ×
        </button>
      </header>
      <div className="space-y-1.5 p-3">{children}</div>
    </section>
  );
}
