import { t } from "@lingui/core/macro";
import type { Ohms } from "../api/client";

/** What every card has there: where it is found, what is usual, what a wrong reading mostly means. */
export function Planned({ node }: { node: Ohms["plan"][number] }) {
  return (
    <div className="border-edge border-l-4 bg-tray px-3 py-2" data-testid="planned">
      <p>{node.where}</p>
      <p className="text-soft">
        {node.usual && t`Usual on any card: ${node.usual}. `}
        {node.leads} {node.wrong}
      </p>
    </div>
  );
}
