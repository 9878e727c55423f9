import { t } from "@lingui/core/macro";
import { RoomLinks } from "../shared/RoomLinks";

/** Look has two rooms: what is seen, and how the card comes apart. */
export function Rooms({ number }: { number: number }) {
  const rooms = [
    [`/jobs/${number}/look`, t`What is seen`],
    [`/jobs/${number}/teardown`, t`Taken apart`],
  ] as const;
  return <RoomLinks of={t`Look`} rooms={rooms} />;
}
