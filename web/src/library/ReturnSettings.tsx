import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api } from "../api/client";
import { keyOf } from "../queries/keys";
import { returnSettingsQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { NumberField, TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";

const KEY = returnSettingsQuery().queryKey;

/** What the shop grants when a card leaves, and when it asks after it. */
export function ReturnSettings() {
  const saved = useQuery(returnSettingsQuery());
  if (!saved.data) return null;
  const document = saved.data.document as { warranty_days: number; follow_up_days: number[] };
  return <Entry key={JSON.stringify(document)} {...document} />;
}

function Entry({ warranty_days, follow_up_days }: { warranty_days: number; follow_up_days: number[] }) {
  const [warranty, setWarranty] = useState(String(warranty_days));
  const [after, setAfter] = useState(follow_up_days.join(", "));
  const keeping = useKeeping([keyOf("return")]);
  const number = (text: string) =>
    text.trim() !== "" && !Number.isNaN(Number(text)) ? Number(text) : text.trim();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const days = after
      .split(/[\s,]+/)
      .filter(Boolean)
      .map(number);
    const document = { warranty_days: number(warranty), follow_up_days: days };
    await keeping.keep(() => api.PUT("/api/v1/return-settings", { body: { document } }), KEY);
  };
  return (
    <form onSubmit={submit} className="space-y-3 border-rule border-t pt-4" data-testid="return-settings">
      <h2 className="font-bold text-xl">
        <Trans>When a card leaves</Trans>
      </h2>
      <div className="flex flex-wrap items-end gap-3">
        <NumberField label={t`days of warranty`} value={warranty} onChange={setWarranty} />
        <TextField label={t`asked after, in days`} value={after} onChange={setAfter} mono wide="w-44" />
        <button type="submit" className="button" disabled={keeping.busy}>
          <Trans>Save</Trans>
        </button>
      </div>
      <FormError problem={keeping.problem} />
    </form>
  );
}
