import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { components } from "../api/schema";

export type Customer = components["schemas"]["Customer"];

interface WhichCustomerProps {
  asked: string;
  customers: Customer[];
  choose: (who: { customer_id?: number; another_customer?: boolean }) => void;
}

/** Several people bear one name: which of them it is, or another, before anybody's letters go to a stranger. */
export function WhichCustomer({ asked, customers, choose }: WhichCustomerProps) {
  return (
    <section
      role="alert"
      className="border-suspect border-l-4 pl-3 lg:col-span-2"
      data-testid="which-customer"
    >
      <p className="font-bold">{asked}</p>
      <p className="text-soft">
        <Trans>Letters and the card’s page go to whoever you choose.</Trans>
      </p>
      <ul className="my-2 grid gap-2">
        {customers.map((customer) => (
          <li key={customer.id}>
            <button type="button" className="button" onClick={() => choose({ customer_id: customer.id })}>
              {customer.name}, {customer.contact || t`no contact known`}
            </button>{" "}
            <span className="text-soft">
              {customer.jobs === 1 ? t`1 job` : t`${customer.jobs} jobs`}
              {customer.newest && t`, ${customer.newest} the newest`}
            </span>
          </li>
        ))}
        <li>
          <button type="button" className="button" onClick={() => choose({ another_customer: true })}>
            <Trans>Another person of that name</Trans>
          </button>
        </li>
      </ul>
    </section>
  );
}
