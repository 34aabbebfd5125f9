import { useRef } from "react";

import { useTyped } from "./typed";

/** How long a pointer rests on something before it is looked at what pressing it would do: shorter, and all that it passes is. */
const REST_MS = 400;

type Pointed = Pick<PointerEvent, "pointerType" | "movementX" | "movementY">;

/** What lies under a resting pointer, told as what is typed is. `on`: pressing it is an edit of the design and nothing else. */
export function useOver(on: boolean) {
  const { type, given, drop } = useTyped(on, REST_MS);
  const over = useRef<string | null>(null);
  const pressed = useRef(false); // what was just pressed is not pointed at again before the pointer has left it
  const off = (how: () => void) => {
    if (over.current !== null) how();
    over.current = null;
  };
  return {
    /** The pointer moves over it; `give`: what pressing would do, nothing where it would change nothing. */
    move: (e: Pointed, key: string, give: (() => void) | null) => {
      // only a hand moves it: what a change of the sheet brings under it is not pointed at
      if (e.pointerType !== "mouse" || (!e.movementX && !e.movementY)) return;
      if (pressed.current || over.current === key) return;
      over.current = give ? key : null;
      type(give);
    },
    leave: () => {
      pressed.current = false;
      off(drop);
    },
    /** It is pressed, and then no longer what it was. */
    given: () => {
      pressed.current = over.current !== null;
      off(given);
    },
  };
}
