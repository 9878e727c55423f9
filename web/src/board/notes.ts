import type { Located } from "../api/client";
import type { Notes, SiteNote } from "./Shapes";

/** What the memory layer says of each site. */
export function notesOf(
  located: Located | undefined,
  marked: string | undefined,
  shown: string | null,
): Notes {
  const notes: Record<string, SiteNote> = {};
  const of = (designator: string) => {
    notes[designator] ??= {};
    return notes[designator];
  };
  for (const site of located?.sites ?? []) if (site.errors > 0) of(site.designator).share = site.share;
  const explanations = located ? [located.finding, ...located.others] : [];
  let number = 0;
  for (const explanation of explanations) {
    const fresh = explanation.designators.filter((name) => of(name).pennant === undefined);
    if (fresh.length > 0) number += 1;
    for (const name of fresh) of(name).pennant = number;
  }
  if (marked) of(marked).marked = true;
  if (shown) of(shown).shown = true;
  return notes;
}
