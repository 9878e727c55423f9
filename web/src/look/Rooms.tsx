import { NavLink } from "react-router";

/** Look has two rooms: what is seen, and how the card comes apart. */
export function Rooms({ number }: { number: number }) {
  return (
    <nav aria-label="Look" className="flex gap-2">
      {(
        [
          [`/jobs/${number}/look`, "What is seen"],
          [`/jobs/${number}/teardown`, "Taken apart"],
        ] as const
      ).map(([to, says]) => (
        <NavLink
          key={to}
          to={to}
          className={({ isActive }) =>
            `min-h-11 rounded-md border-2 px-4 py-2 ${isActive ? "border-ink bg-tray font-bold" : "border-edge"}`
          }
        >
          {says}
        </NavLink>
      ))}
    </nav>
  );
}
