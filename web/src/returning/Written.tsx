import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type JobDetail, newId } from "../api/client";
import { messagesQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { messageTemplatesQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { SelectField, TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { day, moment } from "../shared/words";
import { asKept } from "./letters";

interface Template {
  key: string;
  name: string;
}

// the place of a letter that the customer’s own address takes
const LINK = "{link}";

/** What was written to the customer, and writing: a template filled, read, changed, sent. */
export function Written({ job }: { job: JobDetail }) {
  const params = { path: { number: job.number } };
  const key = messagesQuery(job.number).queryKey;
  const messages = useQuery(messagesQuery(job.number));
  const templates = useQuery(messageTemplatesQuery());
  const [template, setTemplate] = useState("");
  const [draft, setDraft] = useState<{ to: string; subject: string; text: string } | null>(null);
  const [link, setLink] = useState<{ address: string; expires_at: string } | null>(null);
  const [byHand, setByHand] = useState("");
  const keeping = useKeeping([key, keyOf("mailbox"), keyOf("reminders")]);
  const named = ((templates.data?.document as { templates?: Template[] } | undefined)?.templates ?? []).map(
    (entry) => [entry.key, entry.name] as const,
  );
  const chosen = template || named[0]?.[0] || "";
  const origin = window.location.origin;
  const fill = async () => {
    const query = { template: chosen };
    const answer = await keeping.keep(() =>
      api.GET("/api/v1/jobs/{number}/message-draft", { params: { ...params, query } }),
    );
    if (answer && answer !== "kept") setDraft(answer);
  };
  const send = async (event: FormEvent) => {
    event.preventDefault();
    if (!draft) return;
    const body = { id: newId(), ...draft, template: chosen, origin };
    const answer = await keeping.keep(() => api.POST("/api/v1/jobs/{number}/messages", { params, body }));
    if (!answer) return;
    setDraft(null);
    if (answer !== "kept" && answer.link) setByHand(answer.link);
  };
  const makeLink = async () => {
    const body = { entry: newId(), origin };
    const answer = await keeping.keep(() => api.POST("/api/v1/jobs/{number}/links", { params, body }));
    if (answer && answer !== "kept") setLink(answer);
  };
  const endLinks = async () => {
    if (await keeping.keep(() => api.DELETE("/api/v1/jobs/{number}/links", { params }))) setLink(null);
  };
  return (
    <section aria-labelledby="written-title" data-testid="written">
      <h2 id="written-title" className="font-bold text-2xl">
        <Trans>Written</Trans>
      </h2>
      <ol>
        {[...(messages.data ?? [])].reverse().map((message) => (
          <li key={message.id} className="border-rule border-t py-1">
            <details>
              <summary className="cursor-pointer">
                <strong>{message.subject}</strong>{" "}
                <span className="text-soft">
                  <Trans>
                    to {message.to}, {message.by}, {moment(message.at)}
                    {!message.sent_at ? t`; not sent yet: the mail server is asked again` : ""}
                  </Trans>
                </span>
              </summary>
              <p className="whitespace-pre-wrap pl-4">{asKept(message.text)}</p>
            </details>
          </li>
        ))}
        {messages.data?.length === 0 && (
          <li className="text-soft">
            <Trans>Nothing was written yet.</Trans>
          </li>
        )}
      </ol>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <SelectField label={t`template`} value={chosen} onChange={setTemplate} options={named} />
        <button
          type="button"
          className="button"
          disabled={!chosen || keeping.busy}
          onClick={() => void fill()}
        >
          <Trans>Fill it</Trans>
        </button>
        <button type="button" className="button-plain" onClick={() => void makeLink()}>
          <Trans>A link without a message</Trans>
        </button>
        <button type="button" className="button-plain" onClick={() => void endLinks()}>
          <Trans>End all links</Trans>
        </button>
      </div>
      {link && (
        <p role="status">
          <Trans>
            Shown this once: <span className="break-all font-mono">{link.address}</span>, until{" "}
            {day(link.expires_at)}.
          </Trans>
        </p>
      )}
      {byHand && (
        <p role="status">
          <Trans>
            No mail server is set, so nothing left the shop. Give them this link, shown this once:{" "}
            <span className="break-all font-mono">{byHand}</span>
          </Trans>
        </p>
      )}
      {draft && (
        <form onSubmit={send} className="mt-3 space-y-3" data-testid="draft">
          <TextField
            label={t`to`}
            type="email"
            value={draft.to}
            onChange={(to) => setDraft({ ...draft, to })}
            maxLength={200}
          />
          <TextField
            label={t`subject`}
            value={draft.subject}
            onChange={(subject) => setDraft({ ...draft, subject })}
          />
          <label className="block">
            <span className="block text-soft">
              <Trans>text; {LINK} becomes their own page’s address</Trans>
            </span>
            <textarea
              className="field w-full"
              rows={12}
              maxLength={20_000}
              value={draft.text}
              onChange={(event) => setDraft({ ...draft, text: event.target.value })}
            />
          </label>
          <button
            type="submit"
            className="button"
            disabled={!draft.to.includes("@") || !draft.subject.trim() || !draft.text.trim() || keeping.busy}
          >
            <Trans>Send it</Trans>
          </button>
          <button type="button" className="button-plain" onClick={() => setDraft(null)}>
            <Trans>Leave it</Trans>
          </button>
        </form>
      )}
      <FormError problem={keeping.problem} />
    </section>
  );
}
