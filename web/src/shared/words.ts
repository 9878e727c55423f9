import { plural, selectOrdinal, t } from "@lingui/core/macro";
import { writtenAmount, writtenDay, writtenNumber } from "./writing";

/** Dates and numbers as the shop writes them. */
const TIME = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

export function day(iso: string): string {
  return writtenDay(new Date(iso));
}

/** A day of this year or next, where which year it is goes without saying. */
export function dayOfYear(iso: string): string {
  return writtenDay(new Date(iso), { year: false });
}

/** A sentence of its own: a capital in front, one full stop behind; nothing of nothing. */
export function sentence(text = ""): string {
  const said = text.trim();
  return said && `${said.charAt(0).toUpperCase()}${said.slice(1).replace(/[.]+$/, "")}.`;
}

export function moment(iso: string): string {
  return `${day(iso)}, ${TIME.format(new Date(iso))}`;
}

export function clockTime(moment: Date): string {
  return TIME.format(moment);
}

export function age(iso: string): string {
  const hours = (Date.now() - new Date(iso).getTime()) / 3_600_000;
  return hours < 24 ? `${Math.max(0, Math.round(hours))} h` : `${Math.floor(hours / 24)} d`;
}

export function count(number: number): string {
  return writtenNumber(number);
}

export function ordinal(number: number): string {
  return selectOrdinal(number, { one: "#st", two: "#nd", few: "#rd", other: "#th" });
}

export function times(number: number): string {
  return plural(number, { 0: "never", 1: "once", other: "# times" });
}

export function percent(share: number): string {
  if (share > 0 && share < 0.01) return "<1 %";
  return `${Math.round(share * 100)} %`;
}

export function size(bytes: number): string {
  if (bytes < 10_000) return `${bytes} B`;
  return bytes < 1e7 ? `${Math.round(bytes / 1000)} kB` : `${Math.round(bytes / 1e6)} MB`;
}

export function listed(names: readonly string[]): string {
  return names.length < 2
    ? names.join("")
    : t`${names.slice(0, -1).join(", ")} and ${names[names.length - 1] ?? ""}`;
}

/** An amount of money in the shop's currency. */
export function amount(value: number, currency: string): string {
  return `${writtenAmount(value)} ${currency}`;
}

// cards of Practice are numbered from here on
const FIRST_PRACTICE = 9_000_000;

/** A job's number as printed on its label. */
export function jobLabel(number: number): string {
  const practice = number >= FIRST_PRACTICE;
  const digits = String(practice ? number - FIRST_PRACTICE : number).padStart(4, "0");
  return `${practice ? "PR" : "J"}-${digits}`;
}
