import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { components } from "../api/schema";
import type { BoardDocument, Edit } from "./document";

type Sketch = components["schemas"]["Sketch"];

interface SketchedProps {
  untaken: Sketch["entries"];
  nodes: Sketch["nodes"];
  apply: (edit: Edit) => Promise<BoardDocument | null>;
}

/** What was named on photographs of the model's cards and is not in the drawing yet. */
export function Sketched({ untaken, nodes, apply }: SketchedProps) {
  return (
    <p className="border-next border-l-8 bg-next-wash px-4 py-3" data-testid="sketch">
      <Trans>
        {untaken.length === 1 ? t`One thing was` : t`${untaken.length} things were`} named on the photographs
        of this model’s cards:{" "}
        {untaken
          .slice(0, 6)
          .map((entry) => entry.name)
          .join(", ")}
        {untaken.length > 6 ? " …" : ""}. Set the scale first, then{" "}
      </Trans>
      <button
        type="button"
        className="button"
        onClick={() =>
          void apply({
            do: "named",
            entries: untaken,
            nodes,
          })
        }
      >
        <Trans>take them into the drawing</Trans>
      </button>
    </p>
  );
}
