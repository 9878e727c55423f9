import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Moon, Sun, UserRound } from "lucide-react";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { Link, NavLink, useNavigate } from "react-router";
import { api, type Person } from "../api/client";
import { searchQuery } from "../queries/shop";
import { partsSoughtQuery } from "../queries/stock";
import { useKeys } from "../shared/keys";
import { isDim, switchTheme } from "../shared/theme";
import { useKinds, wordsOf } from "../shared/useKinds";
import { mayWorkAtBench, useNewSession } from "../signin/session";
import { lifeAt } from "../stock/useStock";
import { AwaySign } from "./AwaySign";
import { KeyList } from "./KeyList";
import { SupplySign } from "./SupplySign";
import { useScanner } from "./scanner";
import { TimerSign } from "./TimerSign";
import { UnsentSign } from "./UnsentSign";

const PAGES = [
  ["/shelf", t`Shelf`],
  ["/library", t`Library`],
  ["/stock", t`Stock`],
  ["/figures", t`Figures`],
  ["/practice", t`Practice`],
  ["/people", t`People`],
] as const;

/** The narrow bar at the left: scan, pages, the person. */
export function SideBar({ person }: { person: Person | null }) {
  const { roles } = useKinds();
  const [dim, setDim] = useState(isDim());
  const [keys, setKeys] = useState(false);
  const newSession = useNewSession();
  useKeys({ "?": () => setKeys((shown) => !shown) });
  const signOut = async () => {
    await api.DELETE("/api/v1/session");
    await newSession();
  };
  return (
    <nav
      aria-label={t`Pages`}
      className="flex w-24 shrink-0 flex-col items-stretch gap-1 border-r border-rule bg-tray px-2 py-4"
    >
      <Link to="/shelf" className="mb-3 text-center font-mono text-xl font-bold">
        uvrix
      </Link>
      <Scan />
      {PAGES.filter(([to]) => to !== "/practice" || mayWorkAtBench(person)).map(([to, name]) => (
        <NavLink
          key={to}
          to={to}
          className={({ isActive }) =>
            `rounded-md px-2 py-3 text-center ${isActive ? "bg-sheet font-bold shadow-[inset_4px_0_0_var(--color-ink)]" : "text-soft"}`
          }
        >
          {name}
        </NavLink>
      ))}
      <div className="mt-auto flex flex-col items-center gap-1">
        {mayWorkAtBench(person) && <SupplySign />}
        <TimerSign />
        <AwaySign className="rounded-md border-2 border-suspect px-1 py-2 text-center text-[15px] leading-snug" />
        <UnsentSign username={person?.username ?? ""} />
        <button
          type="button"
          className="button-plain no-underline"
          onClick={() => setKeys(true)}
          aria-label={t`All keys`}
        >
          <kbd className="key">?</kbd>
        </button>
        <button
          type="button"
          className="grid size-11 place-items-center rounded-md"
          aria-label={dim ? t`Light theme` : t`Dim theme, for microscope light`}
          onClick={() => {
            switchTheme();
            setDim(isDim());
          }}
        >
          {dim ? <Sun aria-hidden /> : <Moon aria-hidden />}
        </button>
        <Menu>
          <MenuButton
            className="grid size-11 place-items-center rounded-md"
            aria-label={t`Signed in as ${person?.name ?? ""}`}
          >
            <UserRound aria-hidden />
          </MenuButton>
          <MenuItems anchor="right end" className="z-20 rounded-md border border-edge bg-sheet p-2 shadow-lg">
            <p className="px-3 py-1">
              <strong>{person?.name}</strong>
              <br />
              <span className="text-soft">{person && wordsOf(roles, person.role)}</span>
            </p>
            <MenuItem>
              <button type="button" className="button w-full data-focus:border-ink" onClick={signOut}>
                <Trans>Sign out</Trans>
              </button>
            </MenuItem>
          </MenuItems>
        </Menu>
      </div>
      {keys && <KeyList close={() => setKeys(false)} />}
    </nav>
  );
}

/** Scan a label, or type a job, serial, customer or part: one hit opens, several are offered. */
function Scan() {
  const [text, setText] = useState("");
  const [sought, setSought] = useState("");
  const field = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  useKeys({ "/": () => field.current?.focus() });
  useScanner(setSought);
  const found = useQuery({ ...searchQuery(sought), enabled: sought !== "" });
  const parts = useQuery({ ...partsSoughtQuery(sought), enabled: sought !== "" });
  const open = (number: number) => {
    setText("");
    setSought("");
    field.current?.blur();
    navigate(`/jobs/${number}`);
  };
  const openPart = (label: string) => {
    setText("");
    setSought("");
    field.current?.blur();
    navigate(lifeAt(label));
  };
  // a label that is read whole is that part; else a single hit is what was meant
  const exact = parts.data?.find((part) => part.exact);
  const only = parts.data && !exact && found.data?.length === 1 ? found.data[0] : undefined;
  const onlyPart =
    exact ?? (found.data?.length === 0 && parts.data?.length === 1 ? parts.data[0] : undefined);
  useEffect(() => {
    if (onlyPart) openPart(onlyPart.label);
    else if (only) open(only.number);
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setSought(text.trim());
  };
  return (
    <form onSubmit={submit} className="relative mb-3 h-20">
      <label>
        <span className="flex items-center justify-center gap-1 text-soft">
          <Trans>
            Scan <kbd className="key">/</kbd>
          </Trans>
        </span>
        <input
          ref={field}
          value={text}
          aria-label={t`Scan a label, or type a job, serial, customer or part`}
          className="field mt-1 w-full px-1 text-center focus:absolute focus:z-20 focus:w-72 focus:px-3 focus:text-left"
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== "Escape") return;
            setSought("");
            setText("");
            field.current?.blur();
          }}
        />
      </label>
      {sought && found.data && parts.data && !only && !onlyPart && (
        <div
          className="absolute top-full left-0 z-20 mt-1 w-96 rounded-md border border-edge bg-sheet p-2 shadow-lg"
          role="status"
        >
          {found.data.length === 0 && parts.data.length === 0 && (
            <p className="p-2">
              <Trans>Nothing fits “{sought}”. Try part of a serial or of the customer’s name.</Trans>
            </p>
          )}
          {found.data.map((job) => (
            <button
              key={job.number}
              type="button"
              className="block w-full rounded px-2 py-2 text-left hover:bg-tray"
              onClick={() => open(job.number)}
            >
              <strong className="font-mono">{job.label}</strong> {job.serial}, {job.customer}
            </button>
          ))}
          {parts.data.map((part) => (
            <button
              key={part.label}
              type="button"
              className="block w-full rounded px-2 py-2 text-left hover:bg-tray"
              onClick={() => openPart(part.label)}
            >
              <Trans>
                <strong className="font-mono">{part.label}</strong> a part, {part.words}
              </Trans>
            </button>
          ))}
        </div>
      )}
    </form>
  );
}
