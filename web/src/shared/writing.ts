import type { components } from "../api/schema";

type Writing = components["schemas"]["Writing"];

const KEPT = "uvrix-writing";
const LOCALES = { point: "en-GB", comma: "de-DE" } as const;
const USUAL: Writing = { dates: "day-month", decimal: "point" };

// as the browser knows it from its last answer, so that nothing is written twice in a row at a start
let writing = kept();

function kept(): Writing {
  try {
    return { ...USUAL, ...JSON.parse(localStorage.getItem(KEPT) ?? "{}") };
  } catch {
    return USUAL;
  }
}

/** Write dates and amounts as the shop's lead set it. */
export function writeAs({ dates, decimal }: Writing): void {
  writing = { dates, decimal };
  localStorage.setItem(KEPT, JSON.stringify(writing));
}

// made once each: making one takes longer than all the rest of a row
const MADE = new Map<string, Intl.DateTimeFormat>();

function parts(moment: Date, options: Intl.DateTimeFormatOptions): Map<string, string> {
  const key = JSON.stringify(options);
  const made = MADE.get(key) ?? new Intl.DateTimeFormat("en-GB", options);
  MADE.set(key, made);
  return new Map(made.formatToParts(moment).map(({ type, value }) => [type, value]));
}

/** A day: 4 Sep 2031, Sep 4, 2031 or 2031-09-04; without its year where that goes without saying. */
export function writtenDay(moment: Date, { year = true } = {}): string {
  const month = writing.dates === "iso" ? "2-digit" : "short";
  const found = parts(moment, { day: month === "short" ? "numeric" : "2-digit", month, year: "numeric" });
  const [day, name, of] = ["day", "month", "year"].map((type) =>
    (found.get(type) ?? "").replace("Sept", "Sep"),
  );
  if (writing.dates === "iso") return year ? `${of}-${name}-${day}` : `${name}-${day}`;
  if (writing.dates === "month-day") return year ? `${name} ${day}, ${of}` : `${name} ${day}`;
  return year ? `${day} ${name} ${of}` : `${day} ${name}`;
}

/** An amount of money, its hundredths where it has any, as letters write it: 1,234.50 or 1.234,50; 120 of a whole one. */
export function writtenAmount(amount: number): string {
  const hundredths = Number.isInteger(amount) ? 0 : 2;
  return amount.toLocaleString(LOCALES[writing.decimal], {
    minimumFractionDigits: hundredths,
    maximumFractionDigits: hundredths,
  });
}

/** A count, in groups of thousands, with at most so many decimals. */
export function writtenNumber(number: number, decimals = 0): string {
  return number.toLocaleString(LOCALES[writing.decimal], { maximumFractionDigits: decimals });
}
