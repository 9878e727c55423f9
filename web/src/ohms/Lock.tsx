import { useState } from "react";
import type { Ohms } from "../api/client";
import { moment } from "../shared/words";

interface LockProps {
  ohms: Ohms;
  tick: (point: string, skipped: string) => Promise<boolean>;
  power: (state: "off" | "supply" | "computer") => Promise<boolean>;
  mayWork: boolean;
}

/** All fuses numbered and ticked by hand, both sides; power unlocks only when every input reads high and all are ticked. */
export function Lock({ ohms, tick, power, mayWork }: LockProps) {
  const [skip, setSkip] = useState<string | null>(null);
  const [why, setWhy] = useState("");
  const ticks = new Map(ohms.ticks.map((one) => [one.point, one]));
  const side = (name: string) => ohms.points.find((one) => one.name === name)?.side;
  return (
    <section aria-labelledby="lock-title" data-testid="lock">
      <h3 id="lock-title" className="text-lg font-bold">
        {ohms.blocks.length > 0 ? "Power is locked" : "Power may be given"}
      </h3>
      <ul aria-label="What keeps power locked">
        {ohms.blocks.map((one) => (
          <li key={one.point}>{one.why}</li>
        ))}
      </ul>
      <ol aria-label="Fuses" className="mt-2">
        {ohms.fuses.map((name, number) => {
          const done = ticks.get(name);
          return (
            <li key={name} className="border-t border-rule py-1.5">
              <div className="flex items-center gap-3">
                <span className="font-mono text-xl font-bold">{number + 1}</span>
                <span className="min-w-0 flex-1">
                  <strong className="font-mono">{name}</strong> {side(name)}
                  {done && (
                    <span className="text-soft">
                      {done.skipped ? ` skipped: ${done.skipped}` : " looked at"}; {done.by},{" "}
                      {moment(done.at)}
                    </span>
                  )}
                </span>
                {mayWork && !done && (
                  <>
                    <button type="button" className="button" onClick={() => void tick(name, "")}>
                      Ticked
                    </button>
                    <button type="button" className="button-plain" onClick={() => setSkip(name)}>
                      Skip
                    </button>
                  </>
                )}
              </div>
              {skip === name && !done && (
                <p className="mt-1 flex items-end gap-2">
                  <label className="min-w-0 flex-1">
                    <span className="block text-soft">why it is skipped</span>
                    <input
                      className="field w-full"
                      maxLength={200}
                      value={why}
                      onChange={(event) => setWhy(event.target.value)}
                    />
                  </label>
                  <button
                    type="button"
                    className="button"
                    disabled={!why.trim()}
                    onClick={async () => {
                      if (await tick(name, why.trim())) setWhy("");
                    }}
                  >
                    Skip it
                  </button>
                </p>
              )}
            </li>
          );
        })}
      </ol>
      {mayWork && ohms.blocks.length === 0 && ohms.power?.state === "off" && (
        <p className="mt-2 flex gap-3">
          <button type="button" className="button" onClick={() => void power("supply")}>
            It goes on the supply, current limit low
          </button>
          <button type="button" className="button" onClick={() => void power("computer")}>
            Into the computer
          </button>
        </p>
      )}
    </section>
  );
}
