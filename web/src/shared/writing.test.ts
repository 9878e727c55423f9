import { afterEach, expect, test } from "vitest";
import { writeAs, writtenAmount, writtenDay, writtenNumber } from "./writing";

const DAY = new Date(2031, 8, 4, 12);

afterEach(() => {
  writeAs({ dates: "day-month", decimal: "point" });
});

test.each([
  ["day-month", "4 Sep 2031", "4 Sep"],
  ["month-day", "Sep 4, 2031", "Sep 4"],
  ["iso", "2031-09-04", "09-04"],
] as const)("a day written %s", (dates, whole, short) => {
  writeAs({ dates, decimal: "point" });
  expect([writtenDay(DAY), writtenDay(DAY, { year: false })]).toEqual([whole, short]);
});

test.each([
  ["point", "1,234.50", "120"],
  ["comma", "1.234,50", "120"],
] as const)("an amount with a decimal %s, as a letter has it", (decimal, parted, whole) => {
  writeAs({ dates: "iso", decimal });
  expect([writtenAmount(1234.5), writtenAmount(120)]).toEqual([parted, whole]);
});

test.each([
  ["point", "1,234", "1,234.5", "12"],
  ["comma", "1.234", "1.234,5", "12"],
] as const)("a number with a decimal %s", (decimal, whole, parted, small) => {
  writeAs({ dates: "iso", decimal });
  expect([writtenNumber(1234.4), writtenNumber(1234.5, 2), writtenNumber(12)]).toEqual([
    whole,
    parted,
    small,
  ]);
});
