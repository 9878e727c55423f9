import { t } from "@lingui/core/macro";
import { useEffect, useRef, useState } from "react";
import { api, data, type Ohms } from "../api/client";
import type { components } from "../api/schema";

export type Meter = Ohms["meters"][number];
export type Taken = components["schemas"]["Taken"];
type Hold = components["schemas"]["HoldRequest"];

interface Ask {
  meter: Meter | undefined;
  quantity: components["schemas"]["AskMeterRequest"]["quantity"];
  /** where the probes are; only a stand-in needs to be told */
  hold: Hold;
  /** what the meter showed when the last reading was stored */
  held: number | null;
}

const AGAIN_MS = 1_000;
const later = () => new Promise((on) => setTimeout(on, AGAIN_MS));

/** Asks a meter that has an address as long as the page is seen; `lost` says that it does not answer. */
export function useMeter({ meter, quantity, hold, held }: Ask): { live: Taken | null; lost: string } {
  const [live, setLive] = useState<Taken | null>(null);
  const [lost, setLost] = useState("");
  const latest = useRef({ hold, held });
  latest.current = { hold, held };
  const id = meter?.address ? meter.id : null;
  const where = JSON.stringify(hold);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another place is another reading
  useEffect(() => {
    if (id === null) return;
    let going = true;
    let samples: Taken["samples"] = [];
    const ask = async () => {
      while (going) {
        if (document.hidden) {
          await later();
          continue;
        }
        try {
          const params = { path: { meter: id } };
          const body = { quantity, samples, ...latest.current };
          const taken = data(await api.POST("/api/v1/meters/{meter}/samples", { params, body }));
          if (!going) return;
          samples = taken.samples;
          setLive(taken);
          setLost(taken.lost);
          if (taken.lost) await later();
        } catch (error) {
          if (!going) return;
          setLost(t`${(error as Error).message} Type on.`);
          await later();
        }
      }
    };
    void ask();
    return () => {
      going = false;
      setLive(null);
    };
  }, [id, quantity, where]);
  return { live, lost };
}
