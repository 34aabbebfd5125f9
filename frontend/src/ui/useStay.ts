import { useEffect } from "react";

/** While changes are on their way to the server: the browser asks before it leaves the page, for they would be lost. */
export function useStay(busy: boolean) {
  useEffect(() => {
    if (!busy) return;
    const ask = (e: BeforeUnloadEvent) => {
      e.preventDefault();
    };
    window.addEventListener("beforeunload", ask);
    return () => {
      window.removeEventListener("beforeunload", ask);
    };
  }, [busy]);
}
