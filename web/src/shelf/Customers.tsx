import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, newId } from "../api/client";
import { type Customer, WhichCustomer } from "../job/WhichCustomer";
import { customersQuery } from "../queries/shop";
import { FormError } from "../shared/FormError";
import { TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";

/** Who there is; the lead makes one of two that are the same person, and gives a job to whom it belongs. */
export function Customers({ mayChange }: { mayChange: boolean }) {
  const [search, setSearch] = useState("");
  const [merging, setMerging] = useState<Customer | null>(null);
  const { problem, keep } = useKeeping([[]]);
  const customers = useQuery({ ...customersQuery(search), enabled: search.trim() !== "" });
  const merge = async (into: Customer) => {
    if (!merging) return;
    const params = { path: { customer: merging.id } };
    const body = { id: newId(), into: into.id };
    if (await keep(() => api.POST("/api/v1/customers/{customer}/merge", { params, body }))) setMerging(null);
  };
  return (
    <section aria-labelledby="customers-title" data-testid="customers">
      <h2 id="customers-title" className="font-bold text-xl">
        <Trans>Customers</Trans>
      </h2>
      <p className="text-soft">
        <Trans>
          Two people may share a name: letters go by name and contact together.
          {merging
            ? t` Merging ${merging.name}, ${merging.contact || t`no contact`}: choose whom it is the same as.`
            : ""}
        </Trans>
      </p>
      <TextField label={t`name or contact`} value={search} onChange={setSearch} maxLength={120} />
      <FormError problem={problem} plain />
      <ul aria-label={t`Customers found`}>
        {customers.data?.map((customer) => (
          <li key={customer.id} className="flex flex-wrap items-center gap-3 border-rule border-t py-2">
            <span className="min-w-0 flex-1">
              <strong>{customer.name}</strong>, {customer.contact || t`no contact known`}{" "}
              <span className="text-soft">
                {customer.jobs === 1 ? t`1 job` : t`${customer.jobs} jobs`}
                {customer.newest && t`, ${customer.newest} the newest`}
              </span>
            </span>
            {mayChange && merging === null && (
              <button type="button" className="button" onClick={() => setMerging(customer)}>
                <Trans>Merge into …</Trans>
              </button>
            )}
            {merging !== null && merging.id !== customer.id && (
              <button type="button" className="button" onClick={() => void merge(customer)}>
                <Trans>Same as this one</Trans>
              </button>
            )}
            {merging?.id === customer.id && (
              <button type="button" className="button-plain" onClick={() => setMerging(null)}>
                <Trans>Cancel</Trans>
              </button>
            )}
          </li>
        ))}
        {customers.data?.length === 0 && (
          <li className="text-soft">
            <Trans>Nobody of that name or contact.</Trans>
          </li>
        )}
      </ul>
      {mayChange && <GiveJob />}
    </section>
  );
}

/** One job that stands under the wrong person. */
function GiveJob() {
  const [job, setJob] = useState("");
  const [name, setName] = useState("");
  const [contact, setContact] = useState("");
  const [said, setSaid] = useState("");
  const { problem, keep } = useKeeping([[]]);
  const number = Number(job.toUpperCase().replace(/^J-/, ""));
  const give = async (who: { customer_id?: number; another_customer?: boolean }) => {
    const params = { path: { number } };
    const body = {
      id: newId(),
      customer: name.trim(),
      contact: contact.trim(),
      another_customer: false,
      ...who,
    };
    const given = await keep(() => api.POST("/api/v1/jobs/{number}/customer", { params, body }));
    if (!given || given === "kept") return;
    setSaid(t`${given.label} is ${given.customer}’s now. Links sent before do not open it any more.`);
    setJob("");
  };
  return (
    <form
      className="mt-4 flex flex-wrap items-end gap-3"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        void give({});
      }}
    >
      <h3 className="w-full font-bold">
        <Trans>A job stands under the wrong person</Trans>
      </h3>
      <TextField label={t`job`} value={job} onChange={setJob} mono wide="w-28" placeholder="J-0003" />
      <TextField label={t`belongs to`} value={name} onChange={setName} wide="w-56" maxLength={120} />
      <TextField label={t`reached at`} value={contact} onChange={setContact} wide="w-56" />
      <button type="submit" className="button" disabled={!(number > 0) || name.trim() === ""}>
        <Trans>Give it to them</Trans>
      </button>
      {problem?.code === "which-customer" && (
        <WhichCustomer
          asked={problem.message}
          customers={problem.facts.customers as Customer[]}
          choose={(who) => void give(who)}
        />
      )}
      <FormError problem={problem?.code === "which-customer" ? null : problem} />
      {said && <p role="status">{said}</p>}
    </form>
  );
}
