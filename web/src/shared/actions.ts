/** Actions as they are called on the screen. */
import { t } from "@lingui/core/macro";
export const ACTIONS: Record<string, string> = {
  rerun: t`Run it under another condition`,
  "measure-lines": t`Measure the lines`,
  reball: t`Reball`,
  replace: t`Replace`,
  "check-supply": t`Measure the supply`,
  ohms: t`Ohms: the rails unpowered`,
  volts: t`Volts: the rails while it runs`,
  "lift-core": t`Lift the core`,
  recipe: t`The tester’s recipe`,
};
