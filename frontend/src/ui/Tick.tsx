import { useEffect, useRef } from "react";

import { useOver } from "./over";
import { useAtOnce } from "./useAtOnce";

interface Props {
  checked: boolean;
  onTick: (on: boolean) => void;
  /** Ticking is an edit of the design and nothing else: it is looked at once a pointer rests on the box or its words. */
  tried?: boolean;
  "aria-label"?: string;
}

/** A box to tick; its words stand beside it in the label that holds it. */
export function Tick({ checked, onTick, tried = false, ...rest }: Props) {
  const { shown, sent, send } = useAtOnce(checked);
  const box = useRef<HTMLInputElement>(null);
  const over = useOver(tried);
  useEffect(() => {
    const all = box.current?.closest<HTMLElement>("label") ?? box.current;
    if (!tried || !all) return;
    const move = (e: PointerEvent) => {
      over.move(e, String(!shown), () => {
        onTick(!shown);
      });
    };
    all.addEventListener("pointermove", move);
    all.addEventListener("pointerleave", over.leave);
    return () => {
      all.removeEventListener("pointermove", move);
      all.removeEventListener("pointerleave", over.leave);
    };
  });
  return (
    <input
      ref={box}
      type="checkbox"
      className={`accent-(--plum) ${sent ? "outline-1 outline-offset-1 outline-plum outline-dashed" : ""}`}
      checked={shown}
      aria-busy={sent}
      onChange={(e) => {
        over.given();
        send(e.target.checked);
        onTick(e.target.checked);
      }}
      {...rest}
    />
  );
}
