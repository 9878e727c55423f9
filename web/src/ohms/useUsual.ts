import { useState } from "react";

/** What the next reading begins with: mode, meter and lead as used last at this bench; how this card is. */
export interface Usual {
  mode: "resistance" | "diode";
  meter: string;
  /** the lead on ground, empty where nobody says */
  polarity: "" | "red" | "black";
  conditions: string[];
}

const KEPT = "uvrix-probing";

/** Mode, meter and lead outlive the page in this browser; warm and cooler on are of this job's card alone. */
export function useUsual(job: number | string) {
  const [usual, set] = useState<Usual>(() => ({ ...kept(), conditions: [] }));
  const [of, setOf] = useState(job);
  if (of !== job) {
    setOf(job);
    set({ ...usual, conditions: [] });
  }
  const setUsual = (next: Usual) => {
    set(next);
    try {
      const { mode, meter, polarity } = next;
      localStorage.setItem(KEPT, JSON.stringify({ mode, meter, polarity }));
    } catch {
      // a full store keeps nothing; the page goes on
    }
  };
  return { usual, setUsual };
}

function kept(): Omit<Usual, "conditions"> {
  const first = { mode: "resistance", meter: "", polarity: "" } as const;
  try {
    const found = JSON.parse(localStorage.getItem(KEPT) ?? "{}") as Partial<Usual>;
    const mode = found.mode === "diode" ? "diode" : "resistance";
    const polarity = found.polarity === "red" || found.polarity === "black" ? found.polarity : "";
    return { mode, polarity, meter: typeof found.meter === "string" ? found.meter : "" };
  } catch {
    return first;
  }
}
