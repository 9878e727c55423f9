import { t } from "@lingui/core/macro";

/** What codes of the API are called where a screen shows them. */
const WORDS: Record<string, string> = {
  present: t`present`,
  missing: t`missing`,
  leaded: t`leaded`,
  "lead-free": t`lead-free`,
  "low-melt": t`low-melt`,
  good: t`good`,
  sick: t`sick`,
  blown: t`blown`,
  unread: t`not read`,
  front: t`front`,
  back: t`back`,
  input: t`input`,
  rail: t`rail`,
  signal: t`signal`,
  clock: t`clock`,
  draw: t`draw`,
  core: t`core`,
  memory: t`memory`,
  "power-stage": t`power stage`,
  converter: t`converter`,
  controller: t`controller`,
  gate: t`gate`,
  diode: t`diode`,
  transistor: t`transistor`,
  resistor: t`resistor`,
  capacitor: t`capacitor`,
  fuse: t`fuse`,
  shunt: t`shunt`,
  supervisor: t`supervisor`,
  crystal: t`crystal`,
  connector: t`connector`,
  coil: t`coil`,
  plug: t`plug`,
  pin: t`pin`,
  pad: t`pad`,
  new: t`new`,
  tested: t`tested`,
  pulled: t`pulled off a card`,
  doubtful: t`doubtful`,
  dead: t`dead`,
};

/** A code as a sentence has it; one that is not known here stands as it is. */
export function codeWords(code: string): string {
  return WORDS[code] ?? code;
}
