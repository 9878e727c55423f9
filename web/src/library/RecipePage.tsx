import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api } from "../api/client";
import { keyOf } from "../queries/keys";
import { boardModelsQuery, familiesQuery, recipesQuery } from "../queries/library";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { Empty, LoadError, Loading } from "../shared/states";
import { useKinds } from "../shared/useKinds";
import { mayWorkAtBench, useSession } from "../signin/session";

interface RecipeDocument {
  format: "uvrix-recipe";
  version: 1;
  name: string;
  host: string;
  build: string;
  note?: string;
  boards?: string[];
  family?: string;
  steps: { command?: string; note?: string }[];
  blanks?: { name: string; label: string; usual?: string }[];
  refusals?: Record<string, string>;
}

const NEW: RecipeDocument = {
  format: "uvrix-recipe",
  version: 1,
  name: "",
  host: "",
  build: "",
  boards: [],
  blanks: [{ name: "bus", label: t`Bus index of the card` }],
  steps: [{ command: "", note: "" }],
  refusals: {},
};
const FROM_JOB = "{job} {serial} {board} {chips} {channels} {amount_mib}";

/** A recipe of the shop's own tester: who runs it where, its commands with blanks, what its refusals mean. */
export function RecipePage() {
  const { slug } = useParams();
  const recipes = useQuery(recipesQuery());
  if (recipes.isPending) return <Loading what={t`Reading the recipes`} />;
  if (recipes.isError) return <LoadError problem={recipes.error} again={() => recipes.refetch()} />;
  const found = recipes.data.find((recipe) => recipe.slug === slug);
  if (slug && !found) return <Empty title={t`No such recipe`} next={t`Go to the library`} to="/library" />;
  const document = found ? (found.document as unknown as RecipeDocument) : NEW;
  return <RecipeForm key={slug ?? "new"} slug={slug} first={document} />;
}

function RecipeForm({ slug, first }: { slug: string | undefined; first: RecipeDocument }) {
  const { refusals } = useKinds();
  const [recipe, setRecipe] = useState(first);
  const navigate = useNavigate();
  const { problem, keep } = useKeeping([keyOf("recipes"), keyOf("job-recipes")], () => navigate("/library"));
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const isLead = session.data?.person?.role === "lead";
  const change = (part: Partial<RecipeDocument>) => setRecipe((old) => ({ ...old, ...part }));
  const models = useQuery(boardModelsQuery());
  const families = useQuery(familiesQuery());
  const save = async () => {
    const steps = recipe.steps.filter((step) => step.command?.trim() || step.note?.trim());
    const blanks = (recipe.blanks ?? []).filter((blank) => blank.name || blank.label);
    const refusals = Object.fromEntries(
      Object.entries(recipe.refusals ?? {}).filter(([, text]) => text.trim()),
    );
    const document = { ...recipe, steps, blanks, refusals };
    await keep(() => api.POST("/api/v1/recipes", { body: { document } }));
  };
  const retire = async () => {
    if (!slug) return;
    await keep(() => api.DELETE("/api/v1/recipes/{slug}", { params: { path: { slug } } }));
  };
  const steps = recipe.steps;
  const blanks = recipe.blanks ?? [];
  const setStep = (at: number, part: Partial<RecipeDocument["steps"][number]>) =>
    change({ steps: steps.map((step, number) => (number === at ? { ...step, ...part } : step)) });
  const setBlank = (at: number, part: Partial<(typeof blanks)[number]>) =>
    change({ blanks: blanks.map((blank, number) => (number === at ? { ...blank, ...part } : blank)) });
  return (
    <main className="max-w-4xl space-y-5 p-6">
      <Link className="button-plain -ml-2" to="/library">
        <Trans>Library</Trans>
      </Link>
      <h1 className="text-3xl font-bold">{slug ? recipe.name : t`New recipe`}</h1>
      <fieldset disabled={!mayWork} className="space-y-5">
        <div className="grid gap-4 lg:grid-cols-3">
          <TextRow label={t`Name`} value={recipe.name} onChange={(name) => change({ name })} />
          <TextRow
            label={t`Host, the test computer`}
            value={recipe.host}
            onChange={(host) => change({ host })}
          />
          <TextRow
            label={t`Build of the tester`}
            value={recipe.build}
            onChange={(build) => change({ build })}
          />
        </div>
        <div className="grid gap-4 lg:grid-cols-2">
          <fieldset>
            <legend className="font-semibold">
              <Trans>For these board models; none ticked: for any</Trans>
            </legend>
            <div className="max-h-40 overflow-y-auto rounded border border-rule p-2">
              {models.data?.map((model) => (
                <label key={model.slug} className="flex min-h-9 items-center gap-2">
                  <input
                    type="checkbox"
                    className="size-5"
                    checked={recipe.boards?.includes(model.slug) ?? false}
                    onChange={(event) => {
                      const rest = (recipe.boards ?? []).filter((board) => board !== model.slug);
                      change({ boards: event.target.checked ? [...rest, model.slug] : rest });
                    }}
                  />
                  {model.name}
                </label>
              ))}
            </div>
          </fieldset>
          <label className="block">
            <span className="mb-1 block font-semibold">
              <Trans>Or for a core family</Trans>
            </span>
            <Select
              className="field w-full"
              value={recipe.family ?? ""}
              onChange={(event) => change({ family: event.target.value })}
            >
              <option value="">{t`none`}</option>
              {families.data?.map((family) => (
                <option key={family.slug} value={family.slug}>
                  {family.name}
                </option>
              ))}
            </Select>
          </label>
        </div>
        <section>
          <h2 className="text-xl font-bold">
            <Trans>Blanks that are asked for</Trans>
          </h2>
          <p className="text-soft">
            <Trans>
              Filled from the job by themselves: <span className="font-mono">{FROM_JOB}</span>
            </Trans>
          </p>
          {blanks.map((blank, number) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no name of their own while they are typed
            <div key={number} className="mt-2 grid grid-cols-[8rem_1fr_10rem] gap-3">
              <TextRow
                label={t`In commands`}
                value={blank.name}
                onChange={(name) => setBlank(number, { name })}
                mono
              />
              <TextRow
                label={t`What to enter`}
                value={blank.label}
                onChange={(label) => setBlank(number, { label })}
              />
              <TextRow
                label={t`Usually`}
                value={blank.usual ?? ""}
                onChange={(usual) => setBlank(number, { usual })}
                mono
              />
            </div>
          ))}
          <button
            type="button"
            className="button mt-2"
            onClick={() => change({ blanks: [...blanks, { name: "", label: "" }] })}
          >
            <Trans>Add a blank</Trans>
          </button>
        </section>
        <section>
          <h2 className="text-xl font-bold">
            <Trans>Steps</Trans>
          </h2>
          {steps.map((step, number) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no name of their own while they are typed
            <div key={number} className="mt-2 grid gap-2 border-l-4 border-rule pl-3">
              <TextRow
                label={t`Step ${number + 1}, command`}
                value={step.command ?? ""}
                onChange={(command) => setStep(number, { command })}
                mono
              />
              <TextRow
                label={t`Note`}
                value={step.note ?? ""}
                onChange={(note) => setStep(number, { note })}
              />
            </div>
          ))}
          <button type="button" className="button mt-2" onClick={() => change({ steps: [...steps, {}] })}>
            <Trans>Add a step</Trans>
          </button>
        </section>
        <section>
          <h2 className="text-xl font-bold">
            <Trans>What to do when it refuses</Trans>
          </h2>
          {refusals.map((word) => (
            <TextRow
              key={word}
              label={word}
              value={recipe.refusals?.[word] ?? ""}
              onChange={(text) => change({ refusals: { ...recipe.refusals, [word]: text } })}
            />
          ))}
        </section>
      </fieldset>
      <FormError problem={problem} />
      <div className="flex flex-wrap gap-3">
        {mayWork && (
          <button type="button" className="button" onClick={() => void save()}>
            <Trans>Save the recipe</Trans>
          </button>
        )}
        {slug && (
          <a className="button grid place-items-center" href={`/api/v1/recipes/${slug}/file`} download>
            <Trans>Export</Trans>
          </a>
        )}
        {slug && isLead && (
          <button type="button" className="button" onClick={() => void retire()}>
            <Trans>Take out of use</Trans>
          </button>
        )}
      </div>
    </main>
  );
}

interface TextRowProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  mono?: boolean;
}

function TextRow({ label, value, onChange, mono = false }: TextRowProps) {
  return (
    <label className="block min-w-0">
      <span className="block text-soft">{label}</span>
      <input
        className={`field w-full ${mono ? "font-mono" : ""}`}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
