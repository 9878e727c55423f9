import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { TextField } from "../shared/fields";

/** A point or fuse left out, with the reason written down. */
export function Skip({ skip, close }: { skip: (why: string) => Promise<boolean>; close: () => void }) {
  const [why, setWhy] = useState("");
  return (
    <p className="mt-1 flex items-end gap-2">
      <TextField label={t`why it is skipped`} value={why} onChange={setWhy} />
      <button
        type="button"
        className="button"
        disabled={!why.trim()}
        onClick={async () => {
          if (await skip(why.trim())) close();
        }}
      >
        <Trans>Skip it</Trans>
      </button>
    </p>
  );
}
