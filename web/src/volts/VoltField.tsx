import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import type { JobDetail } from "../api/client";
import { Live } from "../ohms/Live";
import { useMeter } from "../ohms/useMeter";
import { useUsual } from "../ohms/useUsual";
import { metersQuery } from "../queries/shop";
import { Checkbox } from "../shared/Checkbox";
import { useFirstFocus } from "../shared/focus";
import type { Node, Powering } from "./useVolts";

interface VoltFieldProps {
  job: JobDetail;
  node: Node;
  why: string;
  read: Powering["read"];
  /** something is entered here: the node stays in turn, whatever is advised or stored elsewhere meanwhile */
  begun: () => void;
  done: () => void;
}

/** The node to probe at arm's length; a rail that pulses is kept with its peak. */
export function VoltField({ job, node, why, read, begun, done }: VoltFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const [pulses, setPulses] = useState(false);
  const [every, setEvery] = useState("");
  const field = useFirstFocus<HTMLInputElement>();
  const { usual } = useUsual(job.number);
  const meters = useQuery(metersQuery());
  const meter = meters.data?.find((entry) => entry.name === usual.meter);
  const hold = {
    serial: job.serial,
    board: job.board_model,
    point: node.point || node.id,
    to: "ground" as const,
    off: [],
    lifted: [],
    on: true,
  };
  const asked = node.quantity === "current" ? undefined : meter;
  const quantity = node.quantity === "frequency" ? "frequency" : "voltage";
  const { live, lost } = useMeter({ meter: asked, quantity, hold, held: null });
  const offered = live?.state === "settled" || live?.state === "unsteady" ? live.text : "";
  const value = typed ?? offered;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const entered = value.trim();
    if (!entered) return;
    const span = pulses && !entered.includes("..") ? `0..${entered}` : entered;
    const note = pulses ? `pulses${every.trim() ? `, ${every.trim()}` : ""}` : "";
    if (await read(node, span, note, asked ? usual.meter : "")) done();
  };
  return (
    <form onSubmit={submit} data-testid="volt-field">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="font-bold font-mono text-[40px] leading-tight">{node.point || node.id}</h2>
        <p className="text-soft">
          {[
            node.name,
            node.high > 0 && t`${node.low} to ${node.high} ${node.unit}`,
            node.side,
            node.reach,
            node.parts.join(" "),
          ]
            .filter(Boolean)
            .join(", ")}
        </p>
      </div>
      <div className="mt-1 flex items-end gap-3">
        <label className="min-w-0 flex-1">
          <span className="block text-soft">
            {node.unit === "MHz" ? t`value, as 27M` : t`value, ${node.unit}`}
          </span>
          <input
            ref={field}
            className="field w-full font-mono text-[40px]"
            autoComplete="off"
            maxLength={40}
            value={value}
            onChange={(event) => {
              begun();
              setTyped(event.target.value.replace(",", "."));
            }}
            onKeyDown={(event) => event.key === "Escape" && setTyped(null)}
          />
        </label>
        <button type="submit" className="button border-next" disabled={!value.trim()}>
          <Trans>
            Store <kbd className="key">Enter</kbd>
          </Trans>
        </button>
      </div>
      {asked?.address && <Live live={live} lost={lost} typed={typed !== null} />}
      {why && <p className="mt-1">{why}</p>}
      <div className="mt-1 flex flex-wrap items-center gap-3">
        {node.kind === "clock" && (
          <button
            type="button"
            className="button"
            onClick={async () => {
              if (await read(node, "0", t`noise instead of a wave`, "")) done();
            }}
          >
            <Trans>Noise, no wave</Trans>
          </button>
        )}
        <Checkbox
          label={t`pulses; the value is its peak`}
          checked={pulses}
          onChange={(on) => {
            begun();
            setPulses(on);
          }}
        />
        {pulses && (
          <label>
            <span className="sr-only">
              <Trans>how long, how often</Trans>
            </span>
            <input
              className="field w-48"
              maxLength={80}
              placeholder={t`4 ms every 300 ms`}
              value={every}
              onChange={(event) => setEvery(event.target.value)}
            />
          </label>
        )}
      </div>
    </form>
  );
}
