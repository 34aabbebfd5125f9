import { useEffect, useRef, useState } from "react";

/** Whether something has come into view, or near it: what takes long to work out waits until then. Once seen it stays so. */
export function useSeen<T extends Element>() {
  const box = useRef<T>(null);
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (seen || !box.current) return;
    const look = new IntersectionObserver(
      ([entry]) => {
        if (entry?.isIntersecting) setSeen(true);
      },
      { rootMargin: "120px" },
    );
    look.observe(box.current);
    return () => {
      look.disconnect();
    };
  }, [seen]);
  return [box, seen] as const;
}
