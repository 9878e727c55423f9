import { useState } from "react";
import { useSearchParams } from "react-router";

/** A choice or text that starts as the address has it (empty where it has none), may be changed, and follows the address when that names another. */
export function useFromAddress(name: string): [string, (next: string) => void] {
  const [query] = useSearchParams();
  const asked = query.get(name);
  const [followed, setFollowed] = useState(asked);
  const [chosen, setChosen] = useState(asked ?? "");
  if (asked !== followed) {
    setFollowed(asked);
    if (asked !== null) setChosen(asked);
  }
  return [chosen, setChosen];
}
