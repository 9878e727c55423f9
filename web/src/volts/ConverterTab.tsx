import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { JobDetail, Volts } from "../api/client";
import type { components } from "../api/schema";
import { PinoutDrawing } from "../library/PinoutDrawing";
import { Mark, type Verdict } from "../ohms/Mark";
import { converterQuery } from "../queries/job";
import { LoadError, Loading } from "../shared/states";
import { useCodeWords } from "../shared/useKinds";

export type ConverterPage = components["schemas"]["ConverterPage"];
type Step = ConverterPage["steps"][number];

const ROLE: Record<Step["part_in"], string> = {
  output: t`output`,
  supply: t`supply`,
  enable: t`enable`,
  makes: t`makes it`,
};
const MARK: Record<Step["state"], Verdict> = {
  present: "within",
  missing: "open",
  unknown: "no-reference",
};

/** The parts that make the converter's own output; the page shows pins of others too. */
export function ownParts(page: ConverterPage) {
  return page.steps.find((step) => step.part_in === "output")?.parts ?? [];
}

export function useConverter(number: number, node: string | null) {
  return useQuery({ ...converterQuery(number, node), enabled: !!node });
}

interface ConverterTabProps {
  job: JobDetail;
  volts: Volts;
  node: string | null;
  page: ReturnType<typeof useConverter>;
  probe: (node: string) => void;
  choose: (node: string) => void;
}

/** One converter: its chip's pins, what feeds and enables it, expected and read beside each, where else to probe. */
export function ConverterTab({ job, volts, node, page, probe, choose }: ConverterTabProps) {
  const names = new Map(volts.nodes.map((entry) => [entry.id, entry.name]));
  return (
    <section aria-labelledby="converter-title" data-testid="converter">
      <div className="flex flex-wrap items-center gap-3">
        <h3 id="converter-title" className="font-bold text-2xl">
          {node ? (names.get(node) ?? node) : t`A converter`}
        </h3>
        <label className="ml-auto">
          <span className="sr-only">
            <Trans>Converter of</Trans>
          </span>
          <Select className="field" value={node ?? ""} onChange={(event) => choose(event.target.value)}>
            {!node && <option value="">{t`choose a rail`}</option>}
            {volts.converters.map((converter) => (
              <option key={converter} value={converter}>
                {names.get(converter)}
              </option>
            ))}
          </Select>
        </label>
      </div>
      {page.isError && <LoadError problem={page.error} again={() => page.refetch()} />}
      {node && page.isPending && <Loading what={t`Reading the converter`} />}
      {page.data && <Found job={job} page={page.data} probe={probe} />}
    </section>
  );
}

function Found({ job, page, probe }: { job: JobDetail; page: ConverterPage; probe: (node: string) => void }) {
  const codeWords = useCodeWords();
  const own = ownParts(page);
  return (
    <>
      <p className="text-soft">
        {page.coils.map((coil) => t`coil ${coil.name} on the ${codeWords(coil.side)}`).join(", ")}
        {page.coils.length > 0 && own.length > 0 && "; "}
        {own
          .map((entry) => t`${codeWords(entry.kind)} ${entry.name} on the ${codeWords(entry.side)}`)
          .join(", ")}
        {page.feeds.length > 0 && t`. Feeds ${page.feeds.join(", ")}.`}
      </p>
      <ol aria-label={t`What it hangs on`} className="mt-2">
        {page.steps.map((step) => (
          <li key={step.node} className="border-rule border-t py-2" data-step={step.node}>
            <div className="flex items-center gap-3">
              <Mark verdict={MARK[step.state]} size={24} />
              <span className="w-20 text-soft">{ROLE[step.part_in]}</span>
              <strong className="min-w-0 flex-1">{step.name}</strong>
              <strong className="font-mono text-xl">{step.shown || t`not read`}</strong>
            </div>
            <p className="pl-9 text-soft">
              <Trans>
                expected {step.low} to {step.high} {step.unit}
                {step.parts.length > 0
                  ? t`; made by ${step.parts.map((part) => t`${part.name} on the ${part.side}`).join(", ")}`
                  : ""}
              </Trans>
            </p>
            <p className="flex flex-wrap items-center gap-x-3 pl-9">
              {step.points.map((point, number) => (
                <button
                  key={point.name}
                  type="button"
                  className="button-plain -ml-2 font-mono"
                  onClick={() => probe(step.node)}
                >
                  {number === 0 ? point.name : t`or ${point.name}`}
                  <span className="font-sans text-soft"> {point.side}</span>
                </button>
              ))}
              {step.points.length === 0 && (
                <span className="text-soft">
                  <Trans>no point to probe is known</Trans>
                </span>
              )}
            </p>
          </li>
        ))}
      </ol>
      {page.chips.map((chip) => (
        <section key={chip.name} aria-label={t`Pins of ${chip.name}`} className="mt-4">
          <h4 className="font-bold text-lg">
            <span className="font-mono">{chip.name}</span>{" "}
            {chip.marking ? t`bears ${chip.marking}` : t`bears no marking that the model knows`}
          </h4>
          {chip.pinout ? (
            <PinoutDrawing pinout={chip.pinout} />
          ) : (
            <p>
              <Link
                className="button-plain -ml-2"
                to={`/library/pinouts?marking=${encodeURIComponent(chip.marking)}&job=${job.label}`}
              >
                <Trans>Note its pins</Trans>
              </Link>
            </p>
          )}
        </section>
      ))}
    </>
  );
}
