import { NavLink } from "react-router";

/** A step's tabs side by side; each has an address of its own. */
export function TabLinks({ of, tabs }: { of: string; tabs: readonly (readonly [string, string])[] }) {
  return (
    <nav aria-label={of} className="flex flex-wrap border-b-2 border-rule">
      {tabs.map(([to, label]) => (
        <NavLink
          key={to}
          to={to}
          end
          className={({ isActive }) =>
            `-mb-0.5 grid min-h-11 place-items-center border-b-4 px-1.5 text-[15px] ${isActive ? "border-ink font-bold" : "border-transparent text-soft hover:border-edge"}`
          }
        >
          {label}
        </NavLink>
      ))}
    </nav>
  );
}
