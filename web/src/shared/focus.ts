import { useEffect, useRef } from "react";

/** Put on what is worked on beside a step's own screen: a field that appears there leaves the focus where it is. */
export const KEEPS_FOCUS = { "data-keeps-focus": "" };

/** A field that takes the focus when it appears, unless somebody is in another field or at other work by then. */
export function useFirstFocus<Field extends HTMLElement>() {
  const field = useRef<Field>(null);
  useEffect(() => {
    if (!document.activeElement?.matches("input, select, textarea, [data-keeps-focus] *"))
      field.current?.focus();
  }, []);
  return field;
}
