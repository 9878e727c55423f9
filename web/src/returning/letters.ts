import { t } from "@lingui/core/macro";

/** A letter as it is kept: the customer's own link is not in it any more. */
export function asKept(text: string) {
  return text.replaceAll("{link}", t`(their own link)`);
}
