import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Plural, Trans } from "@lingui/react/macro";
import { useState } from "react";
import { api, type Drawing, type JobDetail, type Located } from "../api/client";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { listed } from "../shared/words";

interface OpenPlacesProps {
  job: JobDetail;
  drawing: Drawing;
  located: Located;
  mayWork: boolean;
}

/** Errors of a channel whose place nobody knows yet, and the way to fill it in once a repair has proven it. */
export function OpenPlaces({ job, drawing, located, mayWork }: OpenPlacesProps) {
  const [place, setPlace] = useState("");
  const [channel, setChannel] = useState("");
  const { problem, busy, keep } = useKeeping([[]]);
  const open = drawing.sites.filter(
    (site) => site.side === "front" && site.position !== null && site.channel === null,
  );
  const homeless = located.warnings.flatMap((warning) => {
    const found = /^channel ([A-Za-z]+[0-9]+): .*no place/.exec(warning);
    return found?.[1] ? [found[1]] : [];
  });
  if (open.length === 0) return null;
  const fill = () => {
    const params = { path: { number: job.number } };
    const body = { designator: place, channel: channel || (homeless[0] ?? "") };
    return keep(() => api.POST("/api/v1/jobs/{number}/proven-places", { params, body }));
  };
  return (
    <section aria-labelledby="open-title" className="border-l-4 border-ink bg-tray px-3 py-2">
      <h3 id="open-title" className="font-bold">
        <Trans>
          {open.length} <Plural value={open.length} one="place" other="places" /> of this board{" "}
          <Plural value={open.length} one="is" other="are" /> open
        </Trans>
      </h3>
      <p>
        {homeless.length > 0
          ? t`Errors of ${listed(homeless)} lie in one of ${listed(open.map((site) => site.designator))}. Once a repair has proven which, fill it in: every later card of this model has it.`
          : t`Their channels are not known: ${listed(open.map((site) => site.designator))}.`}
      </p>
      {mayWork && (
        <div className="mt-2 flex flex-wrap items-end gap-2">
          <Select
            className="field font-mono"
            aria-label={t`Place that the repair proved`}
            value={place}
            onChange={(event) => setPlace(event.target.value)}
          >
            <option value="">{t`which place`}</option>
            {open.map((site) => (
              <option key={site.designator}>{site.designator}</option>
            ))}
          </Select>
          <input
            className="field w-24 font-mono"
            aria-label={t`Channel`}
            placeholder={homeless[0] ?? "A0"}
            value={channel}
            onChange={(event) => setChannel(event.target.value.trim().toUpperCase())}
          />
          <button
            type="button"
            className="button"
            disabled={!place || !(channel || homeless[0]) || busy}
            onClick={() => void fill()}
          >
            <Trans>Proven: fill it in</Trans>
          </button>
        </div>
      )}
      <FormError problem={problem} />
    </section>
  );
}
