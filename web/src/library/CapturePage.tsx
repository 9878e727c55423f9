import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, type BoardDetail, newId, type Orientation, type ReferenceCard } from "../api/client";
import { sendPicture } from "../api/upload";
import { Board, NO_NOTES } from "../board/Board";
import { Meters } from "../ohms/Meters";
import { Points } from "../ohms/Points";
import { ReadingField } from "../ohms/ReadingField";
import type { ReadingEntry } from "../ohms/useOhms";
import { useUsual } from "../ohms/useUsual";
import { boardModelQuery, referenceCardsQuery } from "../queries/library";
import { metersQuery, referenceCardQuery } from "../queries/shop";
import { ChooseFile, PHOTOGRAPHS } from "../shared/ChooseFile";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";

/** A whole set of readings from a good card, walked like a job's route, with its photographs. */
export function CapturePage() {
  const { slug = "", reference } = useParams();
  const model = useQuery(boardModelQuery(slug));
  if (model.isError) return <LoadError problem={model.error} again={() => model.refetch()} />;
  if (!model.data) return <Loading what={t`Opening the model`} />;
  return reference ? <Capture model={model.data} id={reference} /> : <Begin model={model.data} />;
}

/** Which card, and that it is unplugged; or an earlier one to go on with. */
function Begin({ model }: { model: BoardDetail }) {
  const go = useNavigate();
  const [card, setCard] = useState("");
  const [note, setNote] = useState("");
  const [off, setOff] = useState(false);
  const { problem, keep } = useKeeping([]);
  const params = { path: { slug: model.slug } };
  const cards = useQuery(referenceCardsQuery(model.slug));
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const body = { id: newId(), card: card.trim(), note };
    const made = await keep(() => api.POST("/api/v1/board-models/{slug}/reference-cards", { params, body }));
    if (made && made !== "kept") void go(`/library/${model.slug}/capture/${made.id}`);
  };
  return (
    <main className="max-w-3xl p-6">
      <h1 className="text-3xl font-bold">
        <Trans>Capture a good card of {model.name}</Trans>
      </h1>
      <p className="mt-1">
        <Trans>
          Every point along the route, each with Enter; both sides photographed. The figures count in verdicts
          at once.
        </Trans>
      </p>
      <form onSubmit={submit} className="mt-4 space-y-3">
        <label className="block">
          <span className="block text-soft">
            <Trans>the card’s serial or name</Trans>
          </span>
          <input
            className="field w-full"
            maxLength={80}
            value={card}
            onChange={(event) => setCard(event.target.value)}
          />
        </label>
        <label className="block">
          <span className="block text-soft">
            <Trans>how it is known to be good</Trans>
          </span>
          <input
            className="field w-full"
            maxLength={200}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </label>
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-6"
            checked={off}
            onChange={(event) => setOff(event.target.checked)}
          />
          <Trans>It is unplugged and discharged</Trans>
        </label>
        <FormError problem={problem} />
        <button type="submit" className="button" disabled={!card.trim() || !off}>
          <Trans>Begin</Trans>
        </button>
      </form>
      {cards.data && cards.data.length > 0 && (
        <>
          <h2 className="mt-6 text-xl font-bold">
            <Trans>Captured before</Trans>
          </h2>
          <ul aria-label={t`Captured before`}>
            {cards.data.map((entry) => (
              <li key={entry.id} className="border-t border-rule py-1">
                <Trans>
                  <Link className="button-plain" to={`/library/${model.slug}/capture/${entry.id}`}>
                    {entry.card}
                  </Link>{" "}
                  {entry.readings.length} readings, {entry.photographs.length} photographs. {entry.note}
                </Trans>
              </li>
            ))}
          </ul>
        </>
      )}
    </main>
  );
}

/** The card's power is off all the while: a reference card is never powered from here. */
function Capture({ model, id }: { model: BoardDetail; id: string }) {
  const key = referenceCardQuery(id).queryKey;
  const params = { path: { reference: id } };
  const { problem, keep } = useKeeping([]);
  const [chosen, setChosen] = useState<string | null>(null);
  const [held, setHeld] = useState<number | null>(null);
  const [stored, setStored] = useState(0);
  const [orientation, setOrientation] = useState<Orientation>({ side: "front", turns: 0 });
  const { usual, setUsual } = useUsual(id);
  const card = useQuery(referenceCardQuery(id));
  const meters = useQuery(metersQuery());
  if (card.isError) return <LoadError problem={card.error} again={() => card.refetch()} />;
  if (!card.data || !meters.data || !model.drawing) return <Loading what={t`Opening the card`} />;
  const { points } = card.data;
  const read = new Map(card.data.readings.map((reading) => [reading.point, reading]));
  const turn = chosen ?? card.data.route.find((name) => !read.has(name)) ?? null;
  const point = points.find((entry) => entry.name === turn);
  const choose = (name: string | null) => {
    setChosen(name);
    const side = points.find((entry) => entry.name === name)?.side;
    if (side && side !== orientation.side) setOrientation({ ...orientation, side });
  };
  const enter = async (ask: () => Promise<{ data?: ReferenceCard }>) => (await keep(ask, key)) !== null;
  const store = async (entry: ReadingEntry) => {
    const { point: where, value, mode = "", to = "", polarity = "", meter = "" } = entry;
    const body = { id: newId(), point: where, value, mode, to, polarity, meter };
    const quantity = entry.quantity === "diode" ? ("diode" as const) : ("resistance" as const);
    const kept = await enter(() =>
      api.POST("/api/v1/reference-cards/{reference}", { params, body: { ...body, quantity } }),
    );
    if (kept) setStored((times) => times + 1);
    return kept;
  };
  const photograph = async (side: "front" | "back", file: File | undefined) => {
    if (!file) return;
    await enter(async () => {
      const body = { side, picture: (await sendPicture(file)).sha256 };
      return api.POST("/api/v1/reference-cards/{reference}/photographs", { params, body });
    });
  };
  const next = (from: string, by = 1) => {
    const { route } = card.data;
    const here = route.indexOf(from);
    choose((by > 0 ? route.slice(here + 1).find((name) => !read.has(name)) : route[here - 1]) ?? null);
  };
  const shown = {
    points,
    suspects: [],
    readings: card.data.readings.map((reading) => ({
      point: reading.point,
      standing: true,
      verdict: "within" as const,
    })),
  };
  return (
    <main className="grid h-dvh min-h-0 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      <Board
        drawing={model.drawing}
        orientation={orientation}
        setOrientation={setOrientation}
        notes={NO_NOTES}
        fit="board"
        title={t`Board of ${card.data.card}`}
        over={(view) => <Points ohms={shown} view={view} chosen={turn} choose={choose} />}
      />
      <div className="space-y-5 overflow-y-auto border-rule border-l bg-sheet p-5" data-testid="panel">
        <h1 className="text-2xl font-bold">
          <Trans>
            {card.data.card}: {card.data.readings.length} of {card.data.route.length} read
          </Trans>
        </h1>
        <p className="text-soft">
          <Trans>
            A good card of {model.name}, unplugged and discharged. {card.data.note}
          </Trans>
        </p>
        <FormError problem={problem} />
        {point ? (
          <>
            <ReadingField
              key={`${point.name} ${stored}`}
              point={point}
              points={points}
              meter={meters.data.find((meter) => meter.name === usual.meter)}
              card={{ serial: card.data.card, board: model.slug, off: [] }}
              usual={usual}
              setUsual={setUsual}
              held={held}
              read={async (entry, raw) => {
                setHeld(raw);
                return store(entry);
              }}
              begun={() => setChosen(turn)}
              done={() => next(point.name)}
              back={() => next(point.name, -1)}
            />
            <Meters
              meters={meters.data}
              usual={usual}
              setUsual={setUsual}
              set={async (body) =>
                (await keep(() => api.PUT("/api/v1/meters", { body }), metersQuery().queryKey)) !== null
              }
            />
          </>
        ) : (
          <p className="text-lg">
            <Trans>
              Every point is read.{" "}
              <Link className="button-plain" to={`/library/${model.slug}/known-good`}>
                See the library
              </Link>
            </Trans>
          </p>
        )}
        <section aria-labelledby="sides-title">
          <h2 id="sides-title" className="text-lg font-bold">
            <Trans>Photographs</Trans>
          </h2>
          <div className="mt-1 flex flex-wrap gap-3">
            {(["front", "back"] as const).map((side) => (
              <ChooseFile
                key={side}
                accept={PHOTOGRAPHS}
                testid={`reference-${side}`}
                take={(files) => void photograph(side, files[0])}
              >
                {card.data.photographs.some((entry) => entry.side === side)
                  ? t`Another of the ${side}`
                  : t`The ${side}`}
              </ChooseFile>
            ))}
          </div>
          <ul className="mt-2 flex flex-wrap gap-3">
            {card.data.photographs.map((entry) => (
              <li key={entry.picture}>
                <img
                  src={`/api/v1/pictures/${entry.picture}?small=1`}
                  alt={t`The ${entry.side} of ${card.data.card}`}
                  className="h-24"
                />
              </li>
            ))}
          </ul>
        </section>
        <ul aria-label={t`Captured`}>
          {card.data.readings.toReversed().map((reading) => (
            <li key={reading.id} className="grid grid-cols-[6rem_1fr] gap-3 border-t border-rule py-1">
              <strong className="font-mono">{reading.point}</strong>
              <span className="font-mono">
                {reading.text} {reading.to === "across" ? t`across` : ""}
              </span>
            </li>
          ))}
        </ul>
      </div>
    </main>
  );
}
