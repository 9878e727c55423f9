import { t } from "@lingui/core/macro";
import type { JobPhotograph } from "../api/client";
import { CornersOn } from "./CornersOn";
import type { useLook } from "./useLook";

interface StraightenProps {
  photograph: JobPhotograph;
  looking: ReturnType<typeof useLook>;
  close: () => void;
}

/** The board's four corners on a photograph: from them it is cut and seen from straight above. */
export function Straighten({ photograph, looking, close }: StraightenProps) {
  return (
    <CornersOn
      picture={photograph}
      title={t`The photograph to straighten`}
      label={t`The photograph as it was taken stays; a straight one is added.`}
      does={t`Straighten it`}
      keep={async (corners) => {
        if (await looking.straighten(photograph.id, corners)) close();
      }}
      close={close}
    />
  );
}
