import { RoomLinks } from "../shared/RoomLinks";

/** Look has two rooms: what is seen, and how the card comes apart. */
export function Rooms({ number }: { number: number }) {
  const rooms = [
    [`/jobs/${number}/look`, "What is seen"],
    [`/jobs/${number}/teardown`, "Taken apart"],
  ] as const;
  return <RoomLinks of="Look" rooms={rooms} />;
}
