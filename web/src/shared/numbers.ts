/** A figure as it is typed, with a point or a comma; NaN where it is none. Nothing typed is 0. */
export function decimalOf(text: string): number {
  return Number(text.replace(",", "."));
}

/** A figure as it is typed; null where nothing is, NaN where it is none. */
export function numberOf(text: string): number | null {
  return text.trim() === "" ? null : decimalOf(text);
}
