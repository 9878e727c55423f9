import { t } from "@lingui/core/macro";
import { TabLinks } from "../shared/TabLinks";

/** Look has two rooms: what is seen, and how the card comes apart. */
export function Rooms({ number }: { number: number }) {
  const rooms = [
    [`/jobs/${number}/look`, t`What is seen`],
    [`/jobs/${number}/teardown`, t`Taken apart`],
  ] as const;
  return <TabLinks of={t`Look`} rooms={rooms} />;
}
