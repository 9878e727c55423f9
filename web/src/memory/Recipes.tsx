import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type JobDetail, type JobRecipe, type Located } from "../api/client";
import { jobRecipesQuery, recipesWorkedQuery } from "../queries/job";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { moment } from "../shared/words";

const KEPT = "uvrix-host";

interface RecipesProps {
  job: JobDetail;
  /** what the tester refused for, where it did: the recipe's own advice is shown */
  refusal: string | null;
  mayWork: boolean;
}

/** What the tester refused for last, where all that it did was to refuse. */
export function refusalOf(located: Located): string | null {
  if (located.finding.kind !== "refused") return null;
  return located.reports.filter((report) => report.refusal).at(-1)?.refusal ?? null;
}

/** How this shop's tester is run on this card: commands with their blanks filled, each with a copy button. */
export function Recipes({ job, refusal, mayWork }: RecipesProps) {
  const [open, setOpen] = useState(refusal !== null);
  const [chosen, setChosen] = useState(localStorage.getItem(KEPT) ?? "");
  const { problem, keep } = useKeeping([]);
  const found = useQuery({ ...jobRecipesQuery(job.number), enabled: open });
  const recipes = found.data ?? [];
  const one = recipes.find((each) => each.recipe.slug === chosen) ?? recipes[0];
  const fill = async (name: string, value: string) => {
    const params = { path: { number: job.number } };
    const body = { values: { [name]: value } };
    await keep(
      () => api.PUT("/api/v1/jobs/{number}/recipes", { params, body }),
      jobRecipesQuery(job.number).queryKey,
    );
  };
  return (
    <details open={open} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer py-1 text-lg font-bold">
        <Trans>The tester’s recipe</Trans>
      </summary>
      {refusal && <LastWorked job={job} />}
      {found.data?.length === 0 && (
        <p>
          <Trans>No recipe for this board yet. </Trans>
          {mayWork && (
            <Link className="button-plain" to="/library/recipes/new">
              <Trans>Write one</Trans>
            </Link>
          )}
        </p>
      )}
      {one && (
        <div className="space-y-3" data-testid="recipe">
          {recipes.length > 1 && (
            <label className="flex items-center gap-2">
              <Trans>Host and build</Trans>
              <Select
                className="field min-w-0 flex-1"
                value={one.recipe.slug}
                onChange={(event) => {
                  setChosen(event.target.value);
                  localStorage.setItem(KEPT, event.target.value);
                }}
              >
                {recipes.map((each) => (
                  <option key={each.recipe.slug} value={each.recipe.slug}>
                    {words(each)}
                  </option>
                ))}
              </Select>
            </label>
          )}
          {recipes.length === 1 && <p>{words(one)}</p>}
          {refusal && refusals(one)[key(refusal)] && (
            <p className="border-l-4 border-ink bg-tray px-3 py-2">
              <Trans>
                It refused with <strong>{refusal}</strong>: {refusals(one)[key(refusal)]}
              </Trans>
            </p>
          )}
          <div className="flex flex-wrap gap-3">
            {one.blanks.map((blank) => (
              <Blank key={blank.name} blank={blank} fill={fill} locked={!mayWork} />
            ))}
          </div>
          <FormError problem={problem} />
          <ol className="space-y-2">
            {one.steps.map((step, number) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: steps have no name and never change places here
              <li key={number}>
                {step.note && <p>{step.note}</p>}
                {step.command && <Command command={step.command} missing={step.missing} />}
              </li>
            ))}
          </ol>
          {mayWork && (
            <Link className="button-plain" to={`/library/recipes/${one.recipe.slug}`}>
              <Trans>Change this recipe</Trans>
            </Link>
          )}
        </div>
      )}
    </details>
  );
}

/** What was set otherwise where the tester last ran on this model. */
function LastWorked({ job }: { job: JobDetail }) {
  const worked = useQuery(recipesWorkedQuery(job.number)).data;
  if (!worked) return null;
  return (
    <div className="mb-3 border-l-4 border-next pl-3" data-testid="last-worked">
      {worked.refusals > 1 && (
        <p className="font-semibold">
          <Trans>Refused {worked.refusals} times in a row.</Trans>
        </p>
      )}
      {worked.job === null && (
        <p>
          <Trans>The tester has not run on another card of this model yet.</Trans>
        </p>
      )}
      {worked.job !== null && (
        <p>
          <Trans>
            It last ran on this model at{" "}
            <Link className="button-plain" to={`/jobs/${worked.job}/memory`}>
              {worked.label_of_job}
            </Link>
            {worked.at ? `, ${moment(worked.at)}` : ""}.{" "}
            {worked.differs.length === 0
              ? t`Nothing that was noted is set otherwise here.`
              : t`Set otherwise here:`}
          </Trans>
        </p>
      )}
      <ul>
        {worked.differs.map((differ) => (
          <li key={differ.what}>
            <Trans>
              {differ.what}: <strong className="font-mono">{differ.here || t`not recorded`}</strong> here,{" "}
              <strong className="font-mono">{differ.worked}</strong> where it ran
            </Trans>
          </li>
        ))}
      </ul>
    </div>
  );
}

function words({ recipe }: JobRecipe): string {
  const document = recipe.document as { host?: string; build?: string };
  return t`${recipe.name}: ${document.host ?? ""}, build ${document.build ?? ""}`;
}

function refusals({ recipe }: JobRecipe): Record<string, string> {
  return (recipe.document as { refusals?: Record<string, string> }).refusals ?? {};
}

function key(refusal: string): string {
  return refusal.startsWith("other") ? "other" : refusal;
}

interface BlankProps {
  blank: JobRecipe["blanks"][number];
  fill: (name: string, value: string) => Promise<void>;
  locked: boolean;
}

function Blank({ blank, fill, locked }: BlankProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const leave = () => {
    if (typed !== null && typed !== blank.value) void fill(blank.name, typed);
  };
  return (
    <label className="block">
      <span className="block text-soft">{blank.label}</span>
      <input
        className="field w-40 font-mono"
        maxLength={64}
        disabled={locked}
        value={typed ?? blank.value}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={leave}
        onKeyDown={(event) => event.key === "Enter" && leave()}
      />
    </label>
  );
}

function Command({ command, missing }: { command: string; missing: string[] }) {
  const [copied, setCopied] = useState(false);
  const copy = async () => {
    await copyText(command);
    setCopied(true);
  };
  return (
    <div className="mt-1 flex items-center gap-2">
      <code className="min-w-0 flex-1 whitespace-pre-wrap wrap-anywhere rounded bg-tray px-3 py-2 font-mono">
        {command}
      </code>
      <button
        type="button"
        className="button shrink-0"
        disabled={missing.length > 0}
        title={missing.length > 0 ? t`still open: ${missing.join(", ")}` : undefined}
        onClick={() => void copy()}
      >
        {missing.length > 0 ? t`needs ${missing.join(", ")}` : copied ? t`Copied` : t`Copy`}
      </button>
    </div>
  );
}

/** To the clipboard; over plain http on a network only the older way works. */
async function copyText(text: string): Promise<void> {
  if (navigator.clipboard && window.isSecureContext) return navigator.clipboard.writeText(text);
  const area = document.createElement("textarea");
  area.value = text;
  document.body.append(area);
  area.select();
  document.execCommand("copy");
  area.remove();
}
