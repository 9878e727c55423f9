import { NavLink } from "react-router";

/** A step's rooms side by side; each has an address of its own. */
export function RoomLinks({ of, rooms }: { of: string; rooms: readonly (readonly [string, string])[] }) {
  return (
    <nav aria-label={of} className="flex flex-wrap gap-2">
      {rooms.map(([to, says]) => (
        <NavLink
          key={to}
          to={to}
          end
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
