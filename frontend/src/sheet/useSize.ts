import { useEffect, useRef, useState } from "react";

/** The size of an element in pixels, as it is now. */
export function useSize<T extends Element>() {
  const ref = useRef<T>(null);
  const [size, setSize] = useState({ w: 0, h: 0 });
  useEffect(() => {
    if (!ref.current) return;
    const seen = new ResizeObserver(([e]) => {
      if (e) setSize({ w: e.contentRect.width, h: e.contentRect.height });
    });
    seen.observe(ref.current);
    return () => {
      seen.disconnect();
    };
  }, []);
  return [ref, size] as const;
}
