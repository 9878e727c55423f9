import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useFieldArray, useForm } from "react-hook-form";
import { api, type JobDetail, newId } from "../api/client";
import { offersQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { SelectField, TextField } from "../shared/fields";
import { FormCheckbox, FormNumber, FormText } from "../shared/formFields";
import { useKeeping } from "../shared/keeping";
import { moment, percent } from "../shared/words";
import type { Offer } from "./useReturn";

/** What the customer was asked, with their answers; and asking anew. */
export function Asked({ job }: { job: JobDetail }) {
  const [open, setOpen] = useState(false);
  const offers = useQuery(offersQuery(job.number));
  return (
    <section aria-labelledby="asked-title" data-testid="asked">
      <h2 id="asked-title" className="font-bold text-2xl">
        <Trans>Asked</Trans>
      </h2>
      {offers.data?.length === 0 && (
        <p className="text-soft">
          <Trans>Nothing has been asked yet.</Trans>
        </p>
      )}
      <ol>
        {[...(offers.data ?? [])].reverse().map((offer) => (
          <li key={offer.id} className="border-rule border-t py-2">
            <OneOffer offer={offer} job={job} />
          </li>
        ))}
      </ol>
      {open ? (
        <NewOffer job={job} done={() => setOpen(false)} />
      ) : (
        <button type="button" className="button mt-2" onClick={() => setOpen(true)}>
          <Trans>Ask something</Trans>
        </button>
      )}
    </section>
  );
}

function OneOffer({ offer, job }: { offer: Offer; job: JobDetail }) {
  const [option, setOption] = useState("0");
  const [name, setName] = useState(job.customer);
  const keeping = useKeeping([
    keyOf("offers", job.number),
    keyOf("job", String(job.number)),
    keyOf("return", job.number),
    keyOf("shelf"),
  ]);
  const answer = offer.answer;
  const tell = async (event: FormEvent) => {
    event.preventDefault();
    const params = { path: { offer: offer.id } };
    const body = { option: option === "no" ? null : Number(option), name: name.trim(), agreed: true };
    await keeping.keep(() => api.POST("/api/v1/offers/{offer}/answer", { params, body }));
  };
  return (
    <>
      <p>
        <strong>{offer.title}</strong>{" "}
        <span className="text-soft">
          {offer.by}, {moment(offer.at)}
        </span>
      </p>
      <p>{offer.found}</p>
      <ol>
        {offer.options.map((entry, at) => (
          <li key={entry.name} className={answer?.option === at ? "font-bold" : ""}>
            {answer?.option === at && "✓ "}
            {entry.name}: <span className="font-mono">{entry.price}</span>
            {entry.chance !== null && t`, ${percent(entry.chance)} that it holds`}
            {entry.against_advice && t`, against our advice`}
          </li>
        ))}
      </ol>
      {answer ? (
        <p>
          <Trans>
            <strong>{answer.option === null ? t`Declined` : t`Accepted`}</strong> by {answer.name},{" "}
            {answer.how === "page" ? t`on their own page` : t`told to us`}, {moment(answer.at)}.{" "}
            {answer.words}
          </Trans>
        </p>
      ) : (
        <form onSubmit={tell} className="mt-1 flex flex-wrap items-end gap-3">
          <SelectField
            label={t`told by voice or letter`}
            value={option}
            onChange={setOption}
            options={[
              ...offer.options.map((entry, at) => [String(at), entry.name] as const),
              ["no", t`declines`],
            ]}
          />
          <TextField label={t`by whom`} value={name} onChange={setName} wide="w-40" maxLength={120} />
          <button type="submit" className="button" disabled={!name.trim() || keeping.busy}>
            <Trans>Enter the answer</Trans>
          </button>
          <FormError problem={keeping.problem} />
        </form>
      )}
    </>
  );
}

interface Option {
  name: string;
  price: string;
  chance: string;
  consequence: string;
  against: boolean;
}

const EMPTY: Option = { name: "", price: "", chance: "", consequence: "", against: false };

function NewOffer({ job, done }: { job: JobDetail; done: () => void }) {
  const { control, handleSubmit, watch } = useForm({
    defaultValues: { title: "", found: "", options: [EMPTY, EMPTY] },
  });
  const { fields, append } = useFieldArray({ control, name: "options" });
  const { title, found, options } = watch();
  const keeping = useKeeping([
    keyOf("offers", job.number),
    keyOf("job", String(job.number)),
    keyOf("return", job.number),
    keyOf("shelf"),
  ]);
  const named = options.filter((option) => option.name.trim());
  const number = (text: string) => Number(text.replace(",", ".").replace("%", ""));
  const bad = named.some(
    (option) =>
      !option.price.trim() ||
      Number.isNaN(number(option.price)) ||
      (option.chance && !(number(option.chance) <= 100)),
  );
  const submit = handleSubmit(async () => {
    const params = { path: { number: job.number } };
    const body = {
      id: newId(),
      title: title.trim(),
      found: found.trim(),
      options: named.map((option) => ({
        name: option.name.trim(),
        price: number(option.price),
        chance: option.chance.trim() ? number(option.chance) / 100 : null,
        consequence: option.consequence.trim(),
        against_advice: option.against,
      })),
    };
    if (await keeping.keep(() => api.POST("/api/v1/jobs/{number}/offers", { params, body }))) done();
  });
  return (
    <form onSubmit={submit} className="mt-3 space-y-3" data-testid="new-offer">
      <FormText control={control} name="title" label={t`what it is about`} maxLength={120} />
      <FormText control={control} name="found" label={t`what was found, in plain words`} maxLength={2000} />
      {fields.map((option, at) => (
        <fieldset key={option.id} className="flex flex-wrap items-end gap-3 border-rule border-t pt-2">
          <legend className="sr-only">
            <Trans>Option {at + 1}</Trans>
          </legend>
          <FormText
            control={control}
            name={`options.${at}.name`}
            label={t`option ${at + 1}`}
            maxLength={120}
          />
          <FormNumber control={control} name={`options.${at}.price`} label={t`price`} />
          <FormText
            control={control}
            name={`options.${at}.chance`}
            label={t`holds, %`}
            inputMode="decimal"
            mono
            wide="w-24"
          />
          <FormText
            control={control}
            name={`options.${at}.consequence`}
            label={t`what follows from it`}
            maxLength={400}
          />
          <FormCheckbox control={control} name={`options.${at}.against`} label={t`against our advice`} />
        </fieldset>
      ))}
      <button type="button" className="button-plain" onClick={() => append(EMPTY)}>
        <Trans>Add an option</Trans>
      </button>
      <button
        type="submit"
        className="button"
        disabled={!title.trim() || !found.trim() || named.length === 0 || bad || keeping.busy}
      >
        <Trans>Send it to the customer</Trans>
      </button>
      <button type="button" className="button-plain" onClick={done}>
        <Trans>Leave it</Trans>
      </button>
      <FormError problem={keeping.problem} />
    </form>
  );
}
