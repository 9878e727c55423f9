import type { ReworkData } from "./useRework";

/** A template's phases as they are typed. */
export function airOf(template: ReworkData["templates"][number] | undefined): string {
  return (template?.air ?? [])
    .map((entry) => `${entry.phase} ${entry.celsius ?? ""}${entry.seconds ? `/${entry.seconds}` : ""}`.trim())
    .join(", ");
}

/** Phases of hot air from `soak 150/60, lift 360/25`: a name, degrees, seconds. */
export function phasesOf(text: string): { phase: string; celsius: number | null; seconds: number | null }[] {
  return text
    .split(",")
    .map((name) => name.trim())
    .filter(Boolean)
    .map((name) => {
      const [, phase = name, celsius, seconds] =
        /^(.*?)\s*(\d+(?:\.\d+)?)?(?:\/(\d+(?:\.\d+)?))?$/.exec(name) ?? [];
      return {
        phase: (phase || "air").slice(0, 40),
        celsius: celsius ? Number(celsius) : null,
        seconds: seconds ? Number(seconds) : null,
      };
    });
}
