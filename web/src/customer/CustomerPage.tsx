import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api } from "../api/client";
import type { components } from "../api/schema";
import { Thumb } from "../board/Thumb";
import { customerQuery } from "../queries/shop";
import { Checkbox } from "../shared/Checkbox";
import { FormError } from "../shared/FormError";
import { TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { Loading } from "../shared/states";
import { amount, day, moment, percent } from "../shared/words";

type Page = components["schemas"]["CustomerPage"];

const STANDS: Record<Page["stands"], string> = {
  "in-work": t`Your card is on the bench. There is nothing to decide yet.`,
  asked: t`We need your word before we go on.`,
  answered: t`Thank you. We have your answer and go on.`,
  returned: t`Your card has left the shop.`,
};

/** The customer's own page: what was found, what may be chosen, and the answer; works on a phone. */
export function CustomerPage() {
  const { token = "" } = useParams();
  const page = useQuery(customerQuery(token));
  if (page.isError)
    return (
      <main className="mx-auto max-w-xl p-5">
        <h1 className="font-bold text-2xl">
          <Trans>This page is no longer available</Trans>
        </h1>
        <p role="alert">{page.error.message}</p>
      </main>
    );
  if (!page.data) return <Loading what={t`Opening your page`} />;
  const said = page.data;
  return (
    <main className="mx-auto max-w-xl space-y-5 p-5">
      <header>
        <p className="text-soft">{said.shop}</p>
        <h1 className="font-bold text-3xl">
          {said.card} <span className="font-mono font-normal text-xl">{said.label}</span>
        </h1>
        <p className="mt-2 text-xl">{STANDS[said.stands]}</p>
      </header>
      <section>
        <h2 className="font-bold text-lg">
          <Trans>You told us</Trans>
        </h2>
        <p>“{said.complaint}”</p>
      </section>
      {said.offer && (
        <section>
          <h2 className="font-bold text-lg">
            <Trans>We found</Trans>
          </h2>
          <p>{said.offer.found}</p>
        </section>
      )}
      {said.board && (
        <figure>
          <Thumb {...said.board} named className="w-full" />
          <figcaption className="text-soft">
            <Trans>
              Your card’s board, seen from the front.
              {said.board.suspects.length > 0 ? t` Marked: ${said.board.suspects.join(", ")}.` : ""}
            </Trans>
          </figcaption>
        </figure>
      )}
      {said.offer &&
        (said.offer.answer ? (
          <Answered offer={said.offer} />
        ) : (
          <Choose key={said.offer.at} token={token} page={said} offer={said.offer} />
        ))}
      {said.report && (
        <a className="button grid place-items-center" href={`/api/v1/customer/${token}/report`}>
          <Trans>Open the report</Trans>
        </a>
      )}
      <footer className="border-rule border-t pt-3 text-soft">
        <Trans>
          This page is yours alone and ends on {day(said.expires_at)}. Do not pass its address on.
        </Trans>
      </footer>
    </main>
  );
}

type Asked = NonNullable<Page["offer"]>;

function Choose({ token, page, offer }: { token: string; page: Page; offer: Asked }) {
  const [option, setOption] = useState<number | null>(null);
  const [name, setName] = useState(page.customer);
  const [words, setWords] = useState("");
  const [agreed, setAgreed] = useState(false);
  const { problem, busy, keep } = useKeeping([]);
  const chosen = option === null ? undefined : offer.options[option];
  const answer = async (of: number | null) => {
    const body = { option: of, name: name.trim(), words: words.trim(), agreed };
    const params = { path: { token } };
    await keep(() => api.POST("/api/v1/customer/{token}/answer", { params, body }), ["customer", token]);
  };
  return (
    <section aria-labelledby="choose-title" className="space-y-3">
      <h2 id="choose-title" className="font-bold text-xl">
        {offer.title}
      </h2>
      <fieldset className="space-y-3">
        <legend className="sr-only">
          <Trans>Options</Trans>
        </legend>
        {offer.options.map((entry, at) => (
          <label
            key={entry.name}
            className={`block cursor-pointer rounded-md border-2 bg-sheet p-4 ${option === at ? "border-ink" : "border-edge"}`}
          >
            <span className="flex items-start gap-3">
              <input
                type="radio"
                name="option"
                className="mt-1 size-6 shrink-0"
                checked={option === at}
                onChange={() => {
                  setOption(at);
                  setAgreed(false);
                }}
              />
              <span>
                <strong className="text-lg">{entry.name}</strong>
                <span className="block font-bold font-mono text-2xl">
                  {amount(entry.price, page.currency)}
                </span>
                {entry.chance !== null && (
                  <span className="block">
                    <Trans>{percent(entry.chance)} that it holds.</Trans>
                  </span>
                )}
                <span className="block">{entry.consequence}</span>
                {entry.terms && (
                  <span className="mt-1 block border-suspect border-l-4 pl-2">{entry.terms}</span>
                )}
              </span>
            </span>
          </label>
        ))}
      </fieldset>
      {chosen?.terms && (
        <Checkbox label={t`I have read this and want to go ahead`} checked={agreed} onChange={setAgreed} />
      )}
      <TextField label={t`your name`} value={name} onChange={setName} maxLength={120} />
      <TextField label={t`anything you want to tell us`} value={words} onChange={setWords} maxLength={400} />
      <FormError
        plain
        problem={
          problem && {
            message:
              problem.code === "away"
                ? t`We could not be reached. Your choice is kept here: try again.`
                : problem.message,
          }
        }
      />
      <div className="grid gap-3 sm:grid-cols-2">
        <button
          type="button"
          className="button border-ink"
          disabled={option === null || !name.trim() || (!!chosen?.terms && !agreed) || busy}
          onClick={() => void answer(option)}
        >
          {chosen ? t`Yes: ${chosen.name}` : t`Choose one above`}
        </button>
        <button
          type="button"
          className="button"
          disabled={!name.trim() || busy}
          onClick={() => void answer(null)}
        >
          <Trans>None of these</Trans>
        </button>
      </div>
    </section>
  );
}

function Answered({ offer }: { offer: Asked }) {
  const answer = offer.answer;
  if (!answer) return null;
  const chosen = answer.option === null ? undefined : offer.options[answer.option];
  return (
    <section className="border-ink border-l-4 bg-sheet p-4" role="status">
      <p className="text-lg">
        <strong>{chosen ? t`You chose: ${chosen.name}` : t`You chose none of these`}</strong>
      </p>
      <p>
        {answer.name}, {moment(answer.at)}. {answer.words}
      </p>
      <p className="text-soft">
        <Trans>To change it, write to the shop.</Trans>
      </p>
    </section>
  );
}
