import { t } from "@lingui/core/macro";
import type { Help } from "./useBeginning";

/** How much of the advice is shown while a card is worked on. */
export const HELP: readonly (readonly [Help, string])[] = [
  ["on", t`always shown`],
  ["on-request", t`shown when asked for`],
  ["off", t`not shown before the end`],
];
export const HELP_WORDS: Record<string, string> = {
  on: t`always shown`,
  "on-request": t`when asked for`,
  off: t`none`,
};
export const ENDED_WORDS: Record<string, string> = {
  "": t`not ended`,
  repaired: t`given back repaired`,
  "no-fix": t`given back as it came`,
  donor: t`kept as a donor`,
};
