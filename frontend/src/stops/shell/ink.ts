import { useEffect, useState } from "react";

function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim() || "#888888";
}

/** Colours of the drawing, taken from the page's tokens and again when day and night change. */
export function useInk() {
  const read = () => ({
    base: token("--plum"),
    lid: token("--verdigris"),
    ink: token("--ink"),
    leaf: token("--leaf"),
    slate: token("--slate"),
    saffron: token("--saffron"),
    vermilion: token("--vermilion"),
  });
  const [ink, setInk] = useState(read);
  useEffect(() => {
    const seen = new MutationObserver(() => {
      setInk(read());
    });
    seen.observe(document.documentElement, { attributes: true, attributeFilter: ["data-theme"] });
    return () => {
      seen.disconnect();
    };
  }, []);
  return ink;
}

export type Ink = ReturnType<typeof useInk>;
