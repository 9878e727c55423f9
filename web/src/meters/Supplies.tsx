import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api } from "../api/client";
import { keyOf } from "../queries/keys";
import { suppliesQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";

/** Bench supplies that answer: a start is logged with them at Volts. */
export function Supplies({ mayWork }: { mayWork: boolean }) {
  const [name, setName] = useState("");
  const [address, setAddress] = useState("");
  const { problem, keep } = useKeeping([keyOf("volts")]);
  const supplies = useQuery(suppliesQuery());
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const body = { name: name.trim(), address: address.trim() };
    const taken = await keep(() => api.PUT("/api/v1/supplies", { body }), suppliesQuery().queryKey);
    if (!taken) return;
    setName("");
    setAddress("");
  };
  return (
    <section aria-labelledby="supplies-title" className="border-rule border-t pt-4" data-testid="supplies">
      <h2 id="supplies-title" className="font-bold text-xl">
        <Trans>Bench supplies</Trans>
      </h2>
      <ul>
        {supplies.data?.map((supply) => (
          <li key={supply.id}>
            <Trans>
              <strong>{supply.name}</strong> answers at {supply.address}
            </Trans>
          </li>
        ))}
      </ul>
      {supplies.data?.length === 0 && (
        <p className="text-soft">
          <Trans>None answers yet: at Volts the current is read off and typed.</Trans>
        </p>
      )}
      <FormError problem={problem} />
      {mayWork && (
        <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-3">
          <TextField label={t`name`} value={name} onChange={setName} wide="w-40" maxLength={40} />
          <TextField
            label={t`address, as TCPIP0::host::port::SOCKET`}
            value={address}
            onChange={setAddress}
            mono
            maxLength={120}
          />
          <button type="submit" className="button" disabled={!name.trim() || !address.trim()}>
            <Trans>Add it</Trans>
          </button>
        </form>
      )}
    </section>
  );
}
