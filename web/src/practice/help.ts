import { t } from "@lingui/core/macro";
import type { Help } from "./useBeginning";

/** How much of the advice is shown while a card is worked on. */
export const HELP: readonly (readonly [Help, string])[] = [
  ["on", t`always shown`],
  ["on-request", t`on request`],
  ["off", t`hidden until the end`],
];
export const HELP_WORDS: Record<string, string> = {
  on: t`always shown`,
  "on-request": t`on request`,
  off: t`hidden`,
};
export const ENDED_WORDS: Record<string, string> = {
  "": t`open`,
  repaired: t`returned repaired`,
  "no-fix": t`returned as it came`,
  donor: t`kept as a donor`,
};
