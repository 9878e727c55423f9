import { t } from "@lingui/core/macro";
import { CornersOn } from "../look/CornersOn";
import type { Hunting } from "./useShorts";

/** The board's four corners on a thermal picture: from them it is laid over the drawing. */
export function ThermalOverlay({ hunting }: { hunting: Hunting }) {
  const { laying } = hunting;
  if (!laying) return null;
  return (
    <CornersOn
      key={laying.picture.sha256}
      picture={laying.picture}
      title={t`The thermal picture to lay over`}
      label={t`The ${laying.side}, as it lies before you. The picture as it was taken stays.`}
      does={t`Lay it over`}
      keep={hunting.overlayThermal}
      close={() => hunting.setLaying(null)}
    />
  );
}
