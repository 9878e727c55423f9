import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type QueryKey, useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, newId } from "../api/client";
import type { components } from "../api/schema";
import { keyOf } from "../queries/keys";
import { boardModelsQuery, valuesQuery } from "../queries/library";
import { FormError } from "../shared/FormError";
import { SelectField, TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { optionsOf, useKinds } from "../shared/useKinds";
import { day } from "../shared/words";
import { mayWorkAtBench, useSession } from "../signin/session";
import type { ModelValues } from "./useStock";

type Source = components["schemas"]["NewValueRequest"]["origin"];

// the model whose values were looked at last
const KEPT = "uvrix-values-of";

/** Values and notes of a model's parts, each with its source; those that a burnt or missing part asks for come first. */
export function Values() {
  const [query, setQuery] = useSearchParams();
  const session = useSession();
  const mayWork = mayWorkAtBench(session.data?.person);
  const models = useQuery(boardModelsQuery());
  const known = models.data?.map((model) => model.slug) ?? [];
  const slug =
    query.get("model") ??
    [localStorage.getItem(KEPT), ...known].find((entry) => entry && known.includes(entry)) ??
    "";
  const key = valuesQuery(slug).queryKey;
  const values = useQuery({ ...valuesQuery(slug), enabled: slug !== "" });
  if (values.isError) return <LoadError problem={values.error} again={() => values.refetch()} />;
  if (!models.data || !values.data) return <Loading what={t`Reading the values`} />;
  return (
    <div className="grid gap-8 lg:grid-cols-[1fr_24rem]">
      <div className="space-y-4">
        <SelectField
          label={t`board model`}
          value={slug}
          onChange={(model) => {
            localStorage.setItem(KEPT, model);
            setQuery({ model });
          }}
          options={models.data.map((model) => [model.slug, model.name] as const)}
        />
        <Wanted data={values.data} choose={(part) => setQuery({ model: slug, part })} />
        <List data={values.data} stale={key} mayWork={mayWork} />
      </div>
      {mayWork && (
        <Note
          key={`${slug} ${query.get("part") ?? ""}`}
          slug={slug}
          part={query.get("part") ?? ""}
          job={values.data.wanted.find((entry) => entry.designator === query.get("part"))?.job ?? null}
        />
      )}
    </div>
  );
}

function Wanted({ data: values, choose }: { data: ModelValues; choose: (part: string) => void }) {
  if (values.wanted.length === 0) return null;
  return (
    <section aria-labelledby="wanted-title" className="border-next border-l-4 bg-next-wash p-3">
      <h2 id="wanted-title" className="font-bold text-lg">
        <Trans>Asked for</Trans>
      </h2>
      <ul>
        {values.wanted.map((entry) => (
          <li
            key={`${entry.job} ${entry.designator}`}
            className="flex flex-wrap items-center justify-between gap-2"
          >
            <span>
              <Trans>
                <strong className="font-mono text-lg">{entry.designator}</strong> is {entry.why} on{" "}
                <Link className="button-plain" to={`/jobs/${entry.job}/look`}>
                  {entry.label}
                </Link>
                : nobody knows its value. Read it off a donor.
              </Trans>
            </span>
            <button type="button" className="button" onClick={() => choose(entry.designator)}>
              <Trans>Note {entry.designator}</Trans>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function List({ data: values, stale, mayWork }: { data: ModelValues; stale: QueryKey; mayWork: boolean }) {
  const keeping = useKeeping([]);
  const back = (value: string) =>
    keeping.keep(
      () => api.POST("/api/v1/part-values/{value}/withdrawal", { params: { path: { value } } }),
      stale,
    );
  return (
    <section aria-labelledby="known-title">
      <h2 id="known-title" className="font-bold text-xl">
        <Trans>Known of {values.model}</Trans>
      </h2>
      <ul>
        {values.values.map((value) => (
          <li
            key={value.designator}
            className="grid grid-cols-[5rem_8rem_1fr] gap-3 border-rule border-t py-2"
          >
            <strong className="font-mono text-lg">{value.designator}</strong>
            <strong className="font-mono text-lg">{value.best}</strong>
            <div>
              {value.conflicts.map((said) => (
                <p key={said} className="border-suspect border-l-4 pl-3">
                  <strong>
                    <Trans>They disagree:</Trans>
                  </strong>{" "}
                  {said}.
                </p>
              ))}
              {value.values.map((noted) => (
                <p key={noted.id}>
                  <span className="font-mono">{noted.text}</span> {noted.words},{" "}
                  <span className="text-soft">
                    {noted.by}, {day(noted.at)}
                  </span>
                  {mayWork && (
                    <button type="button" className="button-plain" onClick={() => back(noted.id)}>
                      <Trans>Take back</Trans>
                    </button>
                  )}
                </p>
              ))}
            </div>
          </li>
        ))}
        {values.values.length === 0 && (
          <li className="text-soft">
            <Trans>Nothing yet. A value read once off a donor is there for every card to come.</Trans>
          </li>
        )}
      </ul>
      <FormError problem={keeping.problem} />
    </section>
  );
}

function Note({ slug, part, job }: { slug: string; part: string; job: number | null }) {
  const { value_sources: sources } = useKinds();
  const [designator, setDesignator] = useState(part);
  const [text, setText] = useState("");
  const [origin, setOrigin] = useState<Source>("donor");
  const [of, setOf] = useState("");
  const keeping = useKeeping([]);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const body = {
      id: newId(),
      designator: designator.trim().toUpperCase(),
      text: text.trim(),
      origin,
      of: of.trim(),
      ...(job === null ? {} : { job }),
    };
    const params = { path: { slug } };
    const kept = await keeping.keep(
      () => api.POST("/api/v1/board-models/{slug}/values", { params, body }),
      keyOf("values", slug),
    );
    if (kept) setText("");
  };
  return (
    <form onSubmit={submit} className="grid content-start justify-items-start gap-3" data-testid="note-value">
      <h2 className="font-bold text-xl">
        <Trans>Note a value</Trans>
      </h2>
      <TextField
        label={t`designator`}
        value={designator}
        onChange={setDesignator}
        mono
        wide="w-32"
        maxLength={80}
      />
      <TextField
        label={t`value or note, as 4k7 or not fitted`}
        value={text}
        onChange={setText}
        mono
        maxLength={120}
      />
      <SelectField
        label={t`where it is from`}
        value={origin}
        onChange={setOrigin}
        options={optionsOf<Source>(sources)}
      />
      <TextField
        label={origin === "donor" ? t`serial of the donor` : t`which card or job`}
        value={of}
        onChange={setOf}
        mono
        maxLength={120}
      />
      <button
        type="submit"
        className="button"
        disabled={!designator.trim() || !text.trim() || (origin === "donor" && !of.trim()) || keeping.busy}
      >
        <Trans>Note it</Trans>
      </button>
      <FormError problem={keeping.problem} />
    </form>
  );
}
