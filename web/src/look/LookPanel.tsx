import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useEffect, useRef, useState } from "react";
import type { JobDetail, JobPhotograph, Look, LookRegion } from "../api/client";
import { useCamera } from "../job/camera";
import { WorkPanel } from "../job/WorkPanel";
import { ChooseFile, PHOTOGRAPHS } from "../shared/ChooseFile";
import { useFilesFromAnywhere } from "../shared/files";
import { useKeys } from "../shared/keys";
import { listed, moment } from "../shared/words";
import { Closer } from "./Closer";
import { JoinPhone } from "./JoinPhone";
import { LookTabs } from "./LookTabs";
import type { Spot, useLook } from "./useLook";
import { ValueOf } from "./ValueOf";

interface LookPanelProps {
  job: JobDetail;
  look: Look;
  looking: ReturnType<typeof useLook>;
  region: LookRegion | undefined;
  turnTo: (id: string | null) => void;
  spot: Spot | null;
  setSpot: (spot: Spot | null) => void;
  overlay: (photograph: JobPhotograph | null) => void;
  straighten: (photograph: JobPhotograph) => void;
  overlaid: JobPhotograph | null;
  mayWork: boolean;
}

/** The work at Look: photographs before anything, each region in turn, what was seen. */
export function LookPanel(props: LookPanelProps) {
  const { look, looking, region, turnTo, spot, mayWork } = props;
  const camera = useCamera();
  const [side, setSide] = useState<"front" | "back" | "">("front");
  const over = useFilesFromAnywhere((files) => void looking.photographs(files, side));
  const open = look.regions.filter((entry) => entry.state === "open");
  // a region of a photograph holds nothing that is known
  const drawn = look.regions.some((entry) => entry.holds.length > 0);
  const clear = async () => {
    if (!region) return;
    if (region.state === "found") return turnTo(after(look, region));
    if (await looking.region(region.id, true)) turnTo(after(look, region));
  };
  useKeys({ Enter: () => void clear() }, mayWork && spot === null && props.overlaid === null);
  return (
    <WorkPanel job={props.job} step="Look">
      <LookTabs number={props.job.number} />
      {looking.problem && (
        <p role="alert" className="border-l-4 border-suspect pl-3">
          <Trans>{looking.problem} What you entered is kept here.</Trans>
        </p>
      )}
      {spot && <Entering look={look} looking={looking} spot={spot} done={() => props.setSpot(null)} />}
      {look.photographs.length === 0 && (
        <p className="border-l-4 border-ink bg-tray px-3 py-2">
          <Trans>
            Photograph both sides before anything is cleaned or taken off: cleaning removes evidence.
          </Trans>
        </p>
      )}
      {look.regions.length > 0 && !spot && (
        <section aria-labelledby="region-title" data-testid="region">
          {open.length > 0 && region ? (
            <>
              <h2 id="region-title" className="text-3xl font-bold leading-tight">
                {capital(region.name)}
              </h2>
              <p className="mt-1">
                {region.holds.length > 0 && `${capital(listed(region.holds))}. `}
                {region.holds.length === 0 && drawn && t`Bare board. `}
                {mayWork && t`Click on the ${drawn ? t`board` : t`photograph`} where something is wrong.`}
              </p>
              {mayWork && (
                <p className="mt-3 flex flex-wrap gap-3">
                  <button
                    type="button"
                    className={`button ${region.state === "open" ? "border-next" : ""}`}
                    onClick={() => void clear()}
                  >
                    {region.state === "open" ? t`Nothing here` : t`On to the next`}{" "}
                    <kbd className="key">
                      <Trans>Enter</Trans>
                    </kbd>
                  </button>
                  {region.state === "clear" && (
                    <button
                      type="button"
                      className="button"
                      onClick={() => void looking.region(region.id, false)}
                    >
                      <Trans>Look again</Trans>
                    </button>
                  )}
                </p>
              )}
            </>
          ) : (
            <h2 id="region-title" className="text-2xl font-bold">
              <Trans>Both sides looked at</Trans>
            </h2>
          )}
          <ol className="mt-4 grid grid-cols-2 gap-1" aria-label={t`Regions`}>
            {look.regions.map((entry) => (
              <li key={entry.id}>
                <button
                  type="button"
                  aria-pressed={entry.id === region?.id}
                  className="flex min-h-9 w-full items-center gap-2 rounded px-2 text-left text-[15px] aria-pressed:bg-tray aria-pressed:font-bold"
                  title={entry.by && entry.at ? `${entry.by}, ${moment(entry.at)}` : undefined}
                  onClick={() => turnTo(entry.id)}
                >
                  <RegionSign state={entry.state} />
                  <span className="min-w-0 flex-1 truncate">{entry.name}</span>
                  <span className="text-soft">{STATE_WORDS[entry.state]}</span>
                </button>
              </li>
            ))}
          </ol>
        </section>
      )}
      {mayWork && drawn && <Closer job={props.job} look={look} looking={looking} />}
      <Findings {...props} />
      <section aria-labelledby="photographs-title">
        <h3 id="photographs-title" className="text-lg font-bold">
          <Trans>Photographs</Trans>
        </h3>
        <div
          className={`mt-2 rounded-lg border-2 border-dashed p-3 ${over ? "border-ink bg-tray" : "border-edge"}`}
        >
          <p className="mb-2 text-soft">
            <Trans>Drop, paste or choose; metadata are not kept.</Trans>
          </p>
          <div className="flex flex-wrap items-center gap-3">
            <Select
              className="field"
              aria-label={t`What it shows`}
              value={side}
              onChange={(event) => setSide(event.target.value as typeof side)}
            >
              <option value="front">{t`the front`}</option>
              <option value="back">{t`the back`}</option>
              <option value="">{t`a detail`}</option>
            </Select>
            <ChooseFile
              take={(files) => void looking.photographs(files, side)}
              accept={PHOTOGRAPHS}
              multiple
              testid="job-photograph"
            >
              <Trans>Choose photographs</Trans>
            </ChooseFile>
            <button type="button" className="button" onClick={() => camera()}>
              <Trans>
                Camera <kbd className="key">c</kbd>
              </Trans>
            </button>
            <JoinPhone number={props.job.number} looking={looking} />
          </div>
          {looking.sending && <p role="status">{looking.sending}</p>}
        </div>
        <ul className="mt-3 grid grid-cols-2 gap-3">
          {look.photographs.map((photograph) => (
            <li
              key={photograph.id}
              className={`rounded border p-2 ${props.overlaid?.id === photograph.id ? "border-ink" : "border-rule"}`}
            >
              <a href={`/api/v1/pictures/${photograph.sha256}`} target="_blank" rel="noreferrer">
                <img
                  src={`/api/v1/pictures/${photograph.sha256}?small=1`}
                  alt={photograph.side ? t`Photograph of the ${photograph.side}` : t`Photograph of a detail`}
                  className="h-24 w-full rounded object-cover"
                  loading="lazy"
                />
              </a>
              <p className="mt-1 text-[15px] text-soft">
                {photograph.side || t`detail`}, {photograph.by}, {moment(photograph.at)}
                {photograph.before && t`, before ${photograph.before} came off`}
                {photograph.note && `: ${photograph.note}`}
              </p>
              {mayWork && photograph.side && (
                <button
                  type="button"
                  className="button mt-1 w-full"
                  onClick={() => props.straighten(photograph)}
                >
                  <Trans>Straighten</Trans>
                </button>
              )}
              {look.references.some((ref) => ref.side === photograph.side) && (
                <button
                  type="button"
                  className="button mt-1 w-full"
                  onClick={() => props.overlay(photograph)}
                >
                  <Trans>Lay over the model’s</Trans>
                </button>
              )}
            </li>
          ))}
        </ul>
      </section>
    </WorkPanel>
  );
}

const STATE_WORDS = { open: "", clear: "clear", found: "finding" } as const;

function RegionSign({ state }: { state: LookRegion["state"] }) {
  return (
    <svg viewBox="0 0 16 16" className="size-4 shrink-0" aria-hidden="true">
      {state === "open" && (
        <circle cx={8} cy={8} r={5} className="fill-none stroke-edge" strokeWidth={2} strokeDasharray="2 2" />
      )}
      {state === "clear" && <circle cx={8} cy={8} r={6} className="fill-good" />}
      {state === "found" && <path d="M3 15V1H14L11 4.5L14 8H4.5V15Z" className="fill-suspect" />}
    </svg>
  );
}

/** The next region along the route that is still open, after this one and then from the start. */
function after(look: Look, region: LookRegion): string | null {
  const at = look.regions.findIndex((entry) => entry.id === region.id);
  const rest = [...look.regions.slice(at + 1), ...look.regions.slice(0, at)];
  return rest.find((entry) => entry.state === "open")?.id ?? null;
}

interface EnteringProps {
  look: Look;
  looking: ReturnType<typeof useLook>;
  spot: Spot;
  done: () => void;
}

/** What is at the place that was clicked: one press says it. */
function Entering({ look, looking, spot, done }: EnteringProps) {
  const [note, setNote] = useState("");
  const [shown, setShown] = useState<string[]>([]);
  const top = useRef<HTMLElement>(null);
  useKeys({ Escape: done });
  // biome-ignore lint/correctness/useExhaustiveDependencies: each new click brings the question into sight again
  useEffect(() => {
    top.current?.scrollIntoView({ block: "nearest" });
  }, [spot]);
  const enter = async (kind: string) => {
    if (await looking.enter(kind, spot, note.trim(), shown)) done();
  };
  return (
    <section ref={top} aria-labelledby="entering-title" data-testid="entering">
      <h2 id="entering-title" className="text-2xl font-bold">
        <Trans>What is there?</Trans>
      </h2>
      <p className="text-soft">
        {spot.x_mm === undefined
          ? t`On the photograph, where you clicked.`
          : t`${spot.side === "front" ? t`Front` : t`Back`}, ${spot.x_mm.toFixed(1)} mm from the bracket end, ${spot.y_mm?.toFixed(1) ?? ""} mm up.`}
      </p>
      <label className="mt-2 block">
        <span className="block text-soft">
          <Trans>note, if the kind does not say it all</Trans>
        </span>
        <input
          className="field w-full"
          maxLength={400}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
      </label>
      <p className="mt-2 flex items-center gap-3">
        <ChooseFile
          take={async (files) => setShown([...shown, ...(await looking.photographs(files, ""))])}
          accept={PHOTOGRAPHS}
          multiple
          testid="finding-photograph"
        >
          <Trans>With a photograph</Trans>
        </ChooseFile>
        {shown.length > 0 && (
          <span role="status">{shown.length === 1 ? t`1 photograph` : t`${shown.length} photographs`}</span>
        )}
      </p>
      <div className="mt-3 grid grid-cols-2 gap-2">
        {look.kinds.map((kind) => (
          <button
            key={kind.kind}
            type="button"
            className="button text-left"
            onClick={() => void enter(kind.kind)}
          >
            {kind.words}
          </button>
        ))}
      </div>
      <button
        type="button"
        className="button mt-2 block w-full text-left"
        disabled={!note.trim()}
        onClick={async () => {
          if (await looking.promise(note.trim(), spot)) done();
        }}
      >
        <Trans>No finding: a promise, as the note says</Trans>
      </button>
      <button type="button" className="button-plain mt-2" onClick={done}>
        <Trans>
          Nothing after all <kbd className="key">Esc</kbd>
        </Trans>
      </button>
    </section>
  );
}

const WANTS_VALUE: readonly string[] = ["burn", "missing-part", "crooked-part", "package"];

function Findings({ job, look, looking, mayWork }: LookPanelProps) {
  if (look.findings.length === 0) return null;
  return (
    <section aria-labelledby="seen-title">
      <h3 id="seen-title" className="text-lg font-bold">
        <Trans>Seen</Trans>
      </h3>
      <ol aria-label={t`Seen`}>
        {look.findings.map((finding, number) => (
          <li key={finding.id} className="border-t border-rule py-2">
            <p className="flex items-baseline gap-3">
              <span className="font-mono text-xl font-bold text-suspect">{number + 1}</span>
              <span className="min-w-0 flex-1">
                <strong>
                  {finding.words}
                  {finding.part && `: ${finding.part}`}
                </strong>
                {finding.note && `. ${finding.note}`}{" "}
                <span className="text-soft">
                  {finding.side}
                  {finding.region &&
                    `, ${look.regions
                      .find((region) => region.id === finding.region)
                      ?.name.split(", ")
                      .slice(1)
                      .join(", ")}`}
                  ; {finding.by}, {moment(finding.at)}
                </span>
              </span>
              {mayWork && (
                <button
                  type="button"
                  className="button-plain shrink-0"
                  onClick={() => void looking.withdraw(finding.id)}
                >
                  <Trans>Take back</Trans>
                </button>
              )}
            </p>
            {finding.part && WANTS_VALUE.includes(finding.kind) && (
              <p className="pl-7">
                <ValueOf slug={job.board_model} part={finding.part} />
              </p>
            )}
            {look.photographs.some((picture) => picture.finding === finding.id) && (
              <p className="flex gap-2 pl-7">
                {look.photographs
                  .filter((picture) => picture.finding === finding.id)
                  .map((picture) => (
                    <a
                      key={picture.id}
                      href={`/api/v1/pictures/${picture.sha256}`}
                      target="_blank"
                      rel="noreferrer"
                    >
                      <img
                        src={`/api/v1/pictures/${picture.sha256}?small=1`}
                        alt={t`Of finding ${number + 1}`}
                        className="h-16 rounded"
                      />
                    </a>
                  ))}
              </p>
            )}
            {finding.suspects.length > 0 && (
              <p className="pl-7">
                <Trans>
                  Was hit together with it, so measure:{" "}
                  <span className="font-mono">
                    {listed(finding.suspects.map((near) => t`${near.designator} (${near.mm.toFixed(1)} mm)`))}
                  </span>
                  .
                </Trans>
              </p>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
