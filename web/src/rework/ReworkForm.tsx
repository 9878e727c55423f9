import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useEffect, useState } from "react";
import { useKinds } from "../shared/useKinds";
import { Heed } from "./Heed";
import { OvenForm } from "./OvenForm";
import { ReworkEntry } from "./ReworkEntry";
import type { Before, Do, ReworkData, Reworking } from "./useRework";

export interface ReworkFormProps {
  number: number;
  rework: ReworkData;
  site: string;
  choose: (designator: string) => void;
  plan: { do: Do; alloy_off: string; alloy_on: string; chip_in: string };
  setPlan: (plan: ReworkFormProps["plan"]) => void;
  before: Before | undefined;
  reworking: Reworking;
  mayWork: boolean;
}

/** The step in hand: what to heed before, the shop's checklist with one key, then what was done. */
export function ReworkForm(props: ReworkFormProps) {
  const { rework, site, choose, plan, setPlan, before, mayWork } = props;
  const { acts } = useKinds();
  const [typed, setTyped] = useState(site);
  useEffect(() => setTyped(site), [site]);
  return (
    <section aria-labelledby="step-title" className="space-y-3">
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (typed.trim()) choose(typed.trim().toUpperCase());
        }}
      >
        <label>
          <span className="block text-soft">
            <Trans>site or part</Trans>
          </span>
          <input
            className="field w-32 font-mono text-2xl"
            maxLength={80}
            autoComplete="off"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onBlur={() => typed.trim() && choose(typed.trim().toUpperCase())}
          />
        </label>
        <label>
          <span className="block text-soft">
            <Trans>to do</Trans>
          </span>
          <Select
            className="field"
            value={plan.do}
            onChange={(event) => {
              const next = event.target.value as Do;
              const preset = rework.templates.find((template) => template.do === next)?.alloy_on;
              setPlan({ ...plan, do: next, alloy_on: preset || plan.alloy_on });
            }}
          >
            {acts
              .filter((act) => act.do !== "write")
              .map((act) => (
                <option key={act.do} value={act.do}>
                  {act.asked}
                </option>
              ))}
          </Select>
        </label>
      </form>
      <h2 id="step-title" className="font-bold text-2xl">
        {plan.do === "bake" ? (
          t`The whole card in an oven`
        ) : site ? (
          <>
            <span className="font-mono">{site}</span>: {acts.find((act) => act.do === plan.do)?.asked}
          </>
        ) : (
          t`Choose a chip on the board, or type its designator`
        )}
      </h2>
      {plan.do === "bake" && mayWork && <OvenForm reworking={props.reworking} />}
      {plan.do !== "bake" && site && before && (
        <Heed
          key={site}
          before={before}
          number={props.number}
          chipIn={plan.chip_in}
          rework={rework}
          noteLot={mayWork ? props.reworking.noteLot : undefined}
        />
      )}
      {plan.do !== "bake" && site && mayWork && before && (
        <ReworkEntry key={`${site} ${plan.do} ${props.reworking.entered}`} {...props} heed={before} />
      )}
    </section>
  );
}
