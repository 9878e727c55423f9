import { useLayoutEffect, useRef } from "react";

type Keys = Record<string, (event: KeyboardEvent) => void>;

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (target.matches("input, textarea, select") || target.isContentEditable)
  );
}

// every screen that listens, the innermost last
const listening: { current: Keys }[] = [];

/** Whether a key does anything on the screen that is shown. */
export function keyActs(key: string): boolean {
  return listening.some((keys) => key in keys.current);
}

/** Do what a key does, as if it were pressed with the focus in no field. */
export function actOf(key: string) {
  const keys = listening.findLast((entry) => key in entry.current);
  keys?.current[key]?.(new KeyboardEvent("keydown", { key }));
}

/** Letters act when no field has the focus; with Alt they act everywhere. A pair such as `g m` is written "g m". */
export function useKeys(keys: Keys, active = true) {
  const latest = useRef(keys);
  latest.current = keys;
  // with the layout, so that a key works from the first moment the screen is seen
  useLayoutEffect(() => {
    if (!active) return;
    let before = "";
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.defaultPrevented) return;
      // letting Alt go between the two letters of a pair does not part them
      if (event.key === "Alt" || event.key === "Shift") return;
      if (!event.altKey && typing(event.target)) return;
      const pressed =
        event.altKey && event.code.startsWith("Key") ? event.code.slice(3).toLowerCase() : event.key;
      const act = latest.current[`${before} ${pressed}`] ?? latest.current[pressed];
      before = pressed;
      if (!act) return;
      event.preventDefault();
      act(event);
    };
    window.addEventListener("keydown", listen);
    listening.push(latest);
    return () => {
      window.removeEventListener("keydown", listen);
      listening.splice(listening.indexOf(latest), 1);
    };
  }, [active]);
}
