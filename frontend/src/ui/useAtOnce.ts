import { useContext, useEffect, useState } from "react";

import { Working } from "./working";

/** What stays as it was, and nothing has set out: a press that leads to no edit. */
const IDLE_MS = 400;

/** What a hand just gave, shown at once until the answer is there: the value it brings, or the old one. `sent`: it is on its way. */
export function useAtOnce<T>(value: T) {
  const working = useContext(Working);
  const [sent, setSent] = useState<{ v: T; over: T; seen: boolean } | null>(null);
  if (sent && (value !== sent.over || (sent.seen && !working))) setSent(null);
  else if (sent && working && !sent.seen) setSent({ ...sent, seen: true });
  const idle = sent !== null && !sent.seen && !working;
  useEffect(() => {
    if (!idle) return;
    const late = setTimeout(() => {
      setSent(null);
    }, IDLE_MS);
    return () => {
      clearTimeout(late);
    };
  }, [idle]);
  return {
    shown: sent ? sent.v : value,
    sent: sent !== null,
    send: (v: T) => {
      setSent({ v, over: value, seen: false });
    },
  };
}
