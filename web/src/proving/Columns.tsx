import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { type FormEvent, useState } from "react";
import { api } from "../api/client";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { SelectField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { useKinds } from "../shared/useKinds";
import type { Unknown } from "./useProof";

/** Which column of this shop's logs is which: asked once, then known. */
export function Columns({
  unknown,
  said,
  forget,
}: {
  unknown: Unknown;
  said: () => void;
  forget: () => void;
}) {
  const { log_columns: names } = useKinds();
  const [columns, setColumns] = useState<Record<string, string>>(unknown.guess);
  const keeping = useKeeping([keyOf("proof")]);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const kept = Object.fromEntries(Object.entries(columns).filter(([, header]) => header));
    if (await keeping.keep(() => api.PUT("/api/v1/log-columns", { body: { columns: kept } }))) said();
  };
  return (
    <form onSubmit={submit} className="mt-3 space-y-2 border-ink border-l-4 pl-3" data-testid="columns">
      <p>
        <Trans>
          <strong>{unknown.file.name}</strong>: say once which column is which.
        </Trans>
      </p>
      <div className="flex flex-wrap items-end gap-3">
        {names.map(({ name, words }) => (
          <SelectField
            key={name}
            label={words}
            value={columns[name] ?? ""}
            onChange={(header) => setColumns({ ...columns, [name]: header })}
            options={[["", t`none`], ...unknown.headers.map((header) => [header, header] as const)]}
          />
        ))}
      </div>
      <button
        type="submit"
        className="button"
        disabled={!columns.seconds || !columns.celsius || keeping.busy}
      >
        <Trans>Save these columns</Trans>
      </button>
      <button type="button" className="button-plain" onClick={forget}>
        <Trans>Skip this file</Trans>
      </button>
      <FormError problem={keeping.problem} />
    </form>
  );
}
