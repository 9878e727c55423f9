import { t } from "@lingui/core/macro";
import { TabLinks } from "../shared/TabLinks";

/** Look has two tabs: what is seen, and how the card comes apart. */
export function LookTabs({ number }: { number: number }) {
  const tabs = [
    [`/jobs/${number}/look`, t`What is seen`],
    [`/jobs/${number}/teardown`, t`Taken apart`],
  ] as const;
  return <TabLinks of={t`Look`} tabs={tabs} />;
}
