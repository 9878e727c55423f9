import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api } from "../api/client";
import { messageTemplatesQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";

interface Template {
  key: string;
  name: string;
  subject: string;
  text: string;
}

const KEY = messageTemplatesQuery().queryKey;
const PLACES = t`customer, job, card, complaint, found, options, link, due, price, warranty, handling, shop`;

/** The shop's letters; what stands in braces is filled by the job. */
export function Templates() {
  const saved = useQuery(messageTemplatesQuery());
  if (!saved.data) return null;
  const { templates } = saved.data.document as { templates: Template[] };
  return <Entry key={JSON.stringify(templates)} kept={templates} />;
}

function Entry({ kept }: { kept: Template[] }) {
  const [templates, setTemplates] = useState(kept);
  const keeping = useKeeping([]);
  const change = (at: number, part: Partial<Template>) =>
    setTemplates(templates.map((template, other) => (other === at ? { ...template, ...part } : template)));
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    await keeping.keep(
      () => api.PUT("/api/v1/message-templates", { body: { document: { templates } } }),
      KEY,
    );
  };
  return (
    <details data-testid="templates">
      <summary className="cursor-pointer font-bold text-xl">
        <Trans>Templates</Trans>
      </summary>
      <form onSubmit={submit} className="mt-2 space-y-4">
        <p className="text-soft">
          <Trans>Filled by the job, in braces: {PLACES}.</Trans>
        </p>
        {templates.map((template, at) => (
          <fieldset key={template.key} className="space-y-2 border-rule border-t pt-2">
            <legend className="sr-only">{template.name}</legend>
            <div className="flex flex-wrap gap-3">
              <TextField
                label={t`template`}
                value={template.name}
                onChange={(name) => change(at, { name })}
                wide="w-56"
                maxLength={80}
              />
              <TextField
                label={t`subject`}
                value={template.subject}
                onChange={(subject) => change(at, { subject })}
              />
            </div>
            <label className="block">
              <span className="block text-soft">
                <Trans>text of {template.name}</Trans>
              </span>
              <textarea
                className="field w-full"
                rows={8}
                maxLength={8000}
                value={template.text}
                onChange={(event) => change(at, { text: event.target.value })}
              />
            </label>
          </fieldset>
        ))}
        <button type="submit" className="button" disabled={keeping.busy}>
          <Trans>Save the templates</Trans>
        </button>
        <FormError problem={keeping.problem} />
      </form>
    </details>
  );
}
