import { createContext, useContext } from "react";

export const OthersContext = createContext<string[]>([]);

/** Who else has this job open, where somebody has. */
export function OthersHere() {
  const others = useContext(OthersContext);
  if (others.length === 0) return null;
  return (
    <span className="min-w-0 truncate font-bold text-ink" role="status" data-testid="others-here">
      {others.join(", ")} {others.length === 1 ? "has" : "have"} this job open too
    </span>
  );
}
