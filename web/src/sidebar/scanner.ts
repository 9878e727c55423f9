import { useEffect, useRef } from "react";

/** Stands before and after what our labels say (shop/arrive/services.py), and in no field of ours. */
const SIGN = "|";
const PAUSE_MS = 400;

/** A label scanner types a label's text wherever the focus is: it is recognised by its sign and never reaches a field. */
export function useScanner(scanned: (text: string) => void) {
  const latest = useRef(scanned);
  latest.current = scanned;
  useEffect(() => {
    let typed: string | null = null;
    let just = Number.NEGATIVE_INFINITY;
    let timer = 0;
    const listen = (event: KeyboardEvent) => {
      // many scanners end with Enter, which must not do what Enter does here
      const tail = event.key === "Enter" && performance.now() - just < PAUSE_MS;
      if (typed === null && event.key !== SIGN && !tail) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (tail) return;
      window.clearTimeout(timer);
      timer = window.setTimeout(() => {
        typed = null;
      }, PAUSE_MS);
      if (event.key === SIGN && typed) {
        latest.current(typed);
        typed = null;
        just = performance.now();
      } else if (event.key === SIGN) typed = "";
      else if (event.key.length === 1) typed += event.key;
    };
    window.addEventListener("keydown", listen, true);
    return () => {
      window.clearTimeout(timer);
      window.removeEventListener("keydown", listen, true);
    };
  }, []);
}
