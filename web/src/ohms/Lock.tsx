import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { Link, useParams } from "react-router";
import type { Ohms } from "../api/client";
import { TextField } from "../shared/fields";
import { useCodeWords } from "../shared/useKinds";
import { moment } from "../shared/words";
import { Again } from "./Probe";
import { Skip } from "./Skip";
import type { Measuring } from "./useOhms";

interface LockProps {
  ohms: Ohms;
  measuring: Measuring;
  choose: (name: string) => void;
  /** whether the card is in the shop under this job */
  here: boolean;
  mayWork: boolean;
}

/** All inputs and fuses of both sides, numbered as on the board: every input reads high, every fuse is ticked by hand. */
export function Lock({ ohms, measuring, choose, here, mayWork }: LockProps) {
  const { number } = useParams();
  const side = (name: string) => ohms.points.find((point) => point.name === name)?.side;
  return (
    <section aria-labelledby="lock-title" data-testid="lock">
      <h3 id="lock-title" className="text-lg font-bold">
        {!here && t`No power: the card is not here`}
        {here && (ohms.blocks.length > 0 ? t`Power is locked` : t`Power may be given`)}
      </h3>
      {here && ohms.blocks.length > 0 && <Again points={ohms.again} choose={choose} />}
      {here && (
        <ul aria-label={t`What keeps power locked`}>
          {ohms.blocks.map((block) => (
            <Blocked
              key={block.point}
              block={block}
              measuring={measuring}
              choose={choose}
              mayWork={mayWork}
            />
          ))}
        </ul>
      )}
      {ohms.inputs.length > 0 && (
        <ol aria-label={t`Inputs`} className="mt-2">
          {ohms.inputs.map((input, number) => (
            <li key={input.rail} className="flex min-h-11 items-center gap-3 border-t border-rule py-1.5">
              <span className="font-mono text-xl font-bold">{number + 1}</span>
              <span className="flex-1">
                {input.name} <strong className="font-mono">{input.point}</strong>
              </span>
              {input.shown ? (
                <strong className={`font-mono ${input.low ? "text-suspect" : ""}`}>
                  {input.shown}
                  {input.low && t`, too low`}
                </strong>
              ) : (
                input.point && (
                  <button type="button" className="button-plain" onClick={() => choose(input.point)}>
                    <Trans>Read it to ground</Trans>
                  </button>
                )
              )}
            </li>
          ))}
        </ol>
      )}
      <ol aria-label={t`Fuses`}>
        {ohms.fuses.map((fuse, number) => (
          <Fuse
            key={fuse.point}
            fuse={fuse}
            number={ohms.inputs.length + number + 1}
            side={side(fuse.point)}
            tick={ohms.ticks.find((tick) => tick.point === fuse.point)}
            measuring={measuring}
            choose={choose}
            mayWork={mayWork}
          />
        ))}
      </ol>
      {mayWork && ohms.blocks.length === 0 && ohms.power?.state === "off" && (
        <p className="mt-2">
          <Link className="button inline-grid place-items-center" to={`/jobs/${number}/volts/power`}>
            <Trans>On to Volts, where it is powered</Trans>
          </Link>
        </p>
      )}
    </section>
  );
}

interface BlockedProps {
  block: Ohms["blocks"][number];
  measuring: Measuring;
  choose: (name: string) => void;
  mayWork: boolean;
}

/** Why power stays locked; a pad that only a person can vouch for is ticked with a reason. */
function Blocked({ block, measuring, choose, mayWork }: BlockedProps) {
  const [asked, setAsked] = useState(false);
  return (
    <li className="border-rule border-t py-1">
      {block.why}
      {block.may_tick && mayWork && (
        <>
          <button type="button" className="button-plain" onClick={() => choose(block.point)}>
            <Trans>Read {block.point}</Trans>
          </button>
          <button
            type="button"
            className="button-plain"
            aria-expanded={asked}
            onClick={() => setAsked(!asked)}
          >
            <Trans>It is right all the same</Trans>
          </button>
          {asked && <Skip skip={(why) => measuring.tick(block.point, why)} close={() => setAsked(false)} />}
        </>
      )}
    </li>
  );
}

interface FuseProps {
  fuse: Ohms["fuses"][number];
  number: number;
  side: string | undefined;
  tick: Ohms["ticks"][number] | undefined;
  measuring: Measuring;
  choose: (name: string) => void;
  mayWork: boolean;
}

/** A fuse: how it is by what was read across it, ticked by hand or skipped with a reason, replaced. */
function Fuse({ fuse, number, side, tick, measuring, choose, mayWork }: FuseProps) {
  const codeWords = useCodeWords();
  const [asked, setAsked] = useState<"skip" | "replace" | null>(null);
  const drawn = side !== undefined;
  return (
    <li className="border-t border-rule py-1.5">
      <div className="flex flex-wrap items-center gap-3">
        <span className="font-mono text-xl font-bold">{number}</span>
        <span className="min-w-40 flex-1">
          <strong className="font-mono">{fuse.point}</strong> {side}
          {fuse.state && (
            <strong className={fuse.state === "good" ? "" : "text-suspect"}>, {codeWords(fuse.state)}</strong>
          )}
          {fuse.swapped && `, ${fuse.swapped}`}
          {tick && (
            <span className="text-soft">
              {tick.skipped ? t`, skipped: ${tick.skipped}` : t`, looked at`}; {tick.by}, {moment(tick.at)}
            </span>
          )}
        </span>
        {drawn && !fuse.state && (
          <button type="button" className="button-plain" onClick={() => choose(fuse.point)}>
            <Trans>Read across it</Trans>
          </button>
        )}
        {mayWork && drawn && (
          <button
            type="button"
            className="button-plain"
            aria-expanded={asked === "replace"}
            onClick={() => setAsked(asked === "replace" ? null : "replace")}
          >
            <Trans>Replaced</Trans>
          </button>
        )}
        {mayWork && !tick && (
          <>
            <button
              type="button"
              className="button-plain"
              aria-expanded={asked === "skip"}
              onClick={() => setAsked(asked === "skip" ? null : "skip")}
            >
              <Trans>Skip</Trans>
            </button>
            <button type="button" className="button" onClick={() => void measuring.tick(fuse.point, "")}>
              <Trans>Ticked</Trans>
            </button>
          </>
        )}
      </div>
      {fuse.why && fuse.state !== "good" && <p className="text-soft">{fuse.why}</p>}
      {asked === "skip" && !tick && (
        <Skip skip={(why) => measuring.tick(fuse.point, why)} close={() => setAsked(null)} />
      )}
      {asked === "replace" && (
        <Replace
          rail={fuse.rail}
          replace={(rating, reason) => measuring.swap(fuse.point, rating, reason)}
          close={() => setAsked(null)}
        />
      )}
    </li>
  );
}

interface ReplaceProps {
  rail: string;
  replace: (rating: string, reason: string) => Promise<boolean>;
  close: () => void;
}

/** A fuse goes in only where nothing behind it is short, or with a written reason. */
function Replace({ rail, replace, close }: ReplaceProps) {
  const [rating, setRating] = useState("");
  const [reason, setReason] = useState("");
  return (
    <div className="mt-1 space-y-2 border-l-4 border-edge pl-3">
      <p className="text-soft">
        <Trans>
          A blown fuse is a symptom.{" "}
          {rail ? t`While ${rail} behind it is short, the next one blows too.` : ""}
        </Trans>
      </p>
      <p className="flex flex-wrap items-end gap-2">
        <TextField label={t`rating of the new one`} value={rating} onChange={setRating} />
        <TextField label={t`reason, where its rail is short`} value={reason} onChange={setReason} />
        <button
          type="button"
          className="button"
          onClick={async () => {
            if (await replace(rating.trim(), reason.trim())) close();
          }}
        >
          <Trans>It is replaced</Trans>
        </button>
      </p>
    </div>
  );
}
