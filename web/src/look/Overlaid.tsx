import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useEffect, useState } from "react";
import type { JobPhotograph, Look, Overlay } from "../api/client";
import { PhotoBoard } from "../board/PhotoBoard";
import type { Point } from "../board/view";
import { useKeys } from "../shared/keys";
import type { useLook } from "./useLook";

type Reference = Look["references"][number];

interface OverlaidProps {
  photograph: JobPhotograph;
  reference: Reference | undefined;
  looking: ReturnType<typeof useLook>;
  close: () => void;
  mayWork: boolean;
}

const BLINK_MS = 500;
const NUMBERS = [0, 1, 2] as const;

/** The photograph over the model's own: three landmarks on each, then opacity, blink, difference, and what differs. */
export function Overlaid({ photograph, reference, looking, close, mayWork }: OverlaidProps) {
  const known = photograph.landmarks as { reference: Point[]; photograph: Point[] } | null;
  const [here, setHere] = useState<Point[]>(known?.reference ?? []);
  const [there, setThere] = useState<Point[]>(known?.photograph ?? []);
  const [found, setFound] = useState<Overlay | null>(null);
  const [busy, setBusy] = useState(false);
  useKeys({ Escape: close });
  if (!reference) return null;
  const ready = here.length === 3 && there.length === 3;
  const overlay = async () => {
    setBusy(true);
    setFound(await looking.overlay(photograph.id, here.map(plain), there.map(plain)));
    setBusy(false);
  };
  if (found)
    return (
      <Compared
        photograph={photograph}
        reference={reference}
        found={found}
        looking={looking}
        again={() => setFound(null)}
        close={close}
        mayWork={mayWork}
      />
    );
  return (
    <section aria-label={t`Landmarks`} className="flex h-full min-h-0 flex-col">
      {(
        [
          [t`The model’s photograph`, reference, here, setHere],
          [t`This card`, photograph, there, setThere],
        ] as const
      ).map(([title, picture, clicked, set]) => (
        <div key={title} className="relative min-h-0 flex-1 border-b border-rule">
          <PhotoBoard
            picture={picture}
            title={title}
            one
            {...(mayWork
              ? { pick: (point: Point) => set((old) => (old.length === 3 ? [point] : [...old, point])) }
              : {})}
          >
            <Landmarks at={clicked} size={picture.width_px / 70} />
          </PhotoBoard>
          <span className="pointer-events-none absolute top-2 left-2 rounded bg-sheet/90 px-2 py-0.5 font-bold">
            {title}: {clicked.length < 3 ? t`click landmark ${clicked.length + 1}` : t`three landmarks`}
          </span>
        </div>
      ))}
      <footer className="flex flex-wrap items-center gap-3 bg-sheet px-4 py-2">
        <p className="min-w-0 flex-1">
          <Trans>
            Click the same three landmarks on both, far apart: screw holes, corners, chips. A few pixels off
            are put right.
          </Trans>
        </p>
        <button
          type="button"
          className={`button ${ready ? "border-next" : ""}`}
          disabled={!ready || busy || !mayWork}
          onClick={() => void overlay()}
        >
          {busy ? t`Laying it over …` : t`Lay it over`}
        </button>
        <button type="button" className="button" onClick={close}>
          <Trans>
            Back to the board <kbd className="key">Esc</kbd>
          </Trans>
        </button>
      </footer>
    </section>
  );
}

function plain(point: Point): number[] {
  return [...point];
}

function Landmarks({ at, size }: { at: readonly Point[]; size: number }) {
  return (
    <g pointerEvents="none">
      {NUMBERS.map((number) => {
        const point = at[number];
        if (!point) return null;
        const [x, y] = point;
        return (
          <g key={number} transform={`translate(${x} ${y})`}>
            <path
              d={`M${-size} 0H${size}M0 ${-size}V${size}`}
              className="stroke-lit"
              strokeWidth={size / 6}
            />
            <text
              x={size * 0.4}
              y={-size * 0.4}
              fontSize={size * 1.6}
              className="fill-lit font-mono font-bold"
            >
              {number + 1}
            </text>
          </g>
        );
      })}
    </g>
  );
}

interface ComparedProps {
  photograph: JobPhotograph;
  reference: Reference;
  found: Overlay;
  looking: ReturnType<typeof useLook>;
  again: () => void;
  close: () => void;
  mayWork: boolean;
}

const WORDS = { missing: t`missing here`, new: t`new here`, changed: t`looks otherwise` } as const;

function Compared({ photograph, reference, found, looking, again, close, mayWork }: ComparedProps) {
  const [opacity, setOpacity] = useState(0.5);
  const [way, setWay] = useState<"over" | "blink" | "difference">("over");
  const [shown, setShown] = useState(true);
  const [chosen, setChosen] = useState(0);
  const [entered, setEntered] = useState<number[]>([]);
  useKeys({
    Escape: close,
    b: () => setWay(way === "blink" ? "over" : "blink"),
    " ": () => setShown(!shown),
    j: () => setChosen(Math.min(chosen + 1, found.places.length - 1)),
    k: () => setChosen(Math.max(chosen - 1, 0)),
  });
  useEffect(() => {
    const still = window.matchMedia("(prefers-reduced-motion: reduce)").matches;
    if (way !== "blink" || still) return setShown(true);
    const timer = window.setInterval(() => setShown((old) => !old), BLINK_MS);
    return () => window.clearInterval(timer);
  }, [way]);
  const size = reference.width_px / 80;
  const missing = async (number: number) => {
    const place = found.places[number];
    if (!place) return;
    const spot = { side: reference.side, x_mm: place.x_mm, y_mm: place.y_mm };
    if (
      await looking.enter(
        place.what === "missing" ? "missing-part" : "crooked-part",
        spot,
        t`Found by overlay.`,
      )
    )
      setEntered((old) => [...old, number]);
  };
  return (
    <section aria-label={t`Overlay`} className="flex h-full min-h-0 flex-col" data-testid="overlay">
      <div className="min-h-0 flex-1">
        <PhotoBoard picture={reference} title={t`This card over the model’s photograph`}>
          <image
            href={`/api/v1/pictures/${photograph.sha256}`}
            width={photograph.width_px}
            height={photograph.height_px}
            transform={`matrix(${found.matrix.join(" ")})`}
            opacity={way === "over" ? opacity : shown || way === "difference" ? 1 : 0}
            style={{ mixBlendMode: way === "difference" ? "difference" : "normal" }}
          />
          {found.places.map((place, number) => (
            <g key={`${place.x_px} ${place.y_px}`} data-place={number + 1}>
              <circle
                cx={place.x_px}
                cy={place.y_px}
                r={size}
                className="fill-none stroke-lit"
                strokeWidth={number === chosen ? size / 2.5 : size / 6}
              />
              <text
                x={place.x_px + size * 1.2}
                y={place.y_px - size * 0.8}
                fontSize={size * 1.5}
                className="fill-lit font-mono font-bold"
              >
                {number + 1}
              </text>
            </g>
          ))}
        </PhotoBoard>
      </div>
      <footer className="max-h-[45%] space-y-2 overflow-y-auto border-t border-rule bg-sheet px-4 py-2">
        <div className="flex flex-wrap items-center gap-3">
          <label className="flex items-center gap-2">
            <Trans>this card</Trans>
            <input
              type="range"
              min={0}
              max={1}
              step={0.05}
              value={opacity}
              onChange={(event) => {
                setWay("over");
                setOpacity(Number(event.target.value));
              }}
            />
          </label>
          {(["blink", "difference"] as const).map((name) => (
            <button
              key={name}
              type="button"
              aria-pressed={way === name}
              className="button aria-pressed:border-ink aria-pressed:bg-tray"
              onClick={() => setWay(way === name ? "over" : name)}
            >
              {name === "blink" ? (
                <Trans>
                  Blink <kbd className="key">b</kbd>
                </Trans>
              ) : (
                t`Difference`
              )}
            </button>
          ))}
          <span className="ml-auto flex gap-2">
            <button type="button" className="button" onClick={again}>
              <Trans>Landmarks</Trans>
            </button>
            <button type="button" className="button" onClick={close}>
              <Trans>
                Back to the board <kbd className="key">Esc</kbd>
              </Trans>
            </button>
          </span>
        </div>
        <p className="text-soft">
          <Trans>
            {found.places.length === 0
              ? t`Nothing differs beyond what lamp and camera do.`
              : t`Places that look otherwise, worst first; the figure counts the usual difference of the two pictures.`}{" "}
            Alike {found.alike.toFixed(2)}.
          </Trans>
        </p>
        <ol aria-label={t`Places`}>
          {found.places.map((place, number) => (
            <li
              key={`${place.x_px} ${place.y_px}`}
              className="flex items-center gap-3 border-t border-rule py-1"
            >
              <button
                type="button"
                aria-pressed={number === chosen}
                className="flex min-h-9 min-w-0 flex-1 items-baseline gap-3 rounded px-1 text-left aria-pressed:bg-tray"
                onClick={() => setChosen(number)}
              >
                <span className="font-mono text-xl font-bold">{number + 1}</span>
                <strong>
                  {place.part ? `${place.part} ` : ""}
                  {WORDS[place.what]}
                </strong>
                <span className="text-soft">
                  <Trans>
                    {Math.round(place.score)} ×; {place.x_mm.toFixed(1)}, {place.y_mm.toFixed(1)} mm
                  </Trans>
                </span>
              </button>
              {mayWork &&
                (entered.includes(number) ? (
                  <span>
                    <Trans>entered</Trans>
                  </span>
                ) : (
                  <button type="button" className="button shrink-0" onClick={() => void missing(number)}>
                    {place.what === "missing" ? t`It is missing` : t`It is a finding`}
                  </button>
                ))}
            </li>
          ))}
        </ol>
      </footer>
    </section>
  );
}
