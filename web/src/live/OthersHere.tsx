import { Plural, Trans } from "@lingui/react/macro";
import { createContext, useContext } from "react";

export const OthersContext = createContext<string[]>([]);

/** Who else has this job open, where somebody has. */
export function OthersHere() {
  const others = useContext(OthersContext);
  if (others.length === 0) return null;
  return (
    <span className="min-w-0 truncate font-bold text-ink" role="status" data-testid="others-here">
      <Trans>
        {others.join(", ")} <Plural value={others.length} one="has" other="have" /> this job open too
      </Trans>
    </span>
  );
}
