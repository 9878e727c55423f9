import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { useSearchParams } from "react-router";
import {
  api,
  type BesideCards,
  type BoardDetail,
  type JobDetail,
  newId,
  type Ohms,
  type Orientation,
} from "../api/client";
import { Board, NO_NOTES } from "../board/Board";
import { UndrawnBoard } from "../board/UndrawnBoard";
import { WorkPanel } from "../job/WorkPanel";
import type { Verdict } from "../ohms/Mark";
import { Meters } from "../ohms/Meters";
import { Points } from "../ohms/Points";
import { ReadingField } from "../ohms/ReadingField";
import { Slip } from "../ohms/Slip";
import type { Measuring, ReadingEntry } from "../ohms/useOhms";
import { useUsual } from "../ohms/useUsual";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { LoadError, Loading } from "../shared/states";
import { nameOf, type Other, useBeside } from "./useBeside";

interface BesideTabProps {
  job: JobDetail;
  model: BoardDetail;
  ohms: Ohms;
  orientation: Orientation;
  setOrientation: (orientation: Orientation) => void;
  measuring: Measuring;
  mayWork: boolean;
  head: ReactNode;
}

type Row = BesideCards["rows"][number];

/** How a difference is drawn on the board: by the marks that stand for it everywhere. */
const MARK: Record<Row["reads"], Verdict> = {
  alike: "within",
  higher: "high",
  lower: "low",
  open: "open",
  over: "low",
  one: "no-reference",
};
const WORD: Record<Row["reads"], string> = {
  alike: t`alike`,
  higher: t`higher here`,
  lower: t`lower here`,
  open: t`open here`,
  over: t`open there`,
  one: t`one only`,
};

/** Two cards of one model probed in turn: no library is needed, what differs comes first. */
export function BesideTab({
  job,
  model,
  ohms,
  orientation,
  setOrientation,
  measuring,
  mayWork,
  head,
}: BesideTabProps) {
  const [search, setSearch] = useSearchParams();
  const asked = search.get("with") ?? "";
  const beside = useBeside(job.number, asked);
  const queries = useQueryClient();
  const [chosen, setChosen] = useState<string | null>(null);
  // which card the probe is on; it stays there over the turn of a point, so that it changes cards as little as may be
  const [there, setThere] = useState(false);
  const [held, setHeld] = useState<number | null>(null);
  const again = () => queries.invalidateQueries({ queryKey: keyOf("beside", job.number) });
  // waited for: what comes next follows from what either card was read for
  const keeping = useKeeping([], again);
  // a reading of the other card about a thousandfold off; this card's is asked back by its own
  const [slip, setSlip] = useState<{ said: string; entry: ReadingEntry } | null>(null);
  const { usual, setUsual } = useUsual(job.number);
  if (beside.isError && asked)
    return <LoadError problem={beside.error} again={() => setSearch({}, { replace: true })} />;
  if (!beside.data) return <Loading what={t`Loading both cards`} />;
  const { others, other, rows } = beside.data;
  const both = new Set(rows.filter((entry) => entry.reads !== "one").map((entry) => entry.point));
  const turn = chosen ?? ohms.route.find((name) => !both.has(name)) ?? null;
  const point = ohms.points.find((entry) => entry.name === turn);
  const row = rows.find((entry) => entry.point === turn);
  const choose = (name: string | null) => {
    setChosen(name);
    const side = ohms.points.find((entry) => entry.name === name)?.side;
    if (side && side !== orientation.side && model.drawing) setOrientation({ ...orientation, side });
  };
  const store = async (entry: ReadingEntry, raw: number | null) => {
    setHeld(raw);
    setSlip(null);
    if (!there || !other) {
      if (!(await measuring.read(entry))) return false;
      await again();
      return true;
    }
    const stored = await keeping.keep(
      () => storeThere(other, entry),
      undefined,
      (told) => {
        if (told.code !== "unit-slip") return false;
        setSlip({ said: told.message, entry });
        return true;
      },
    );
    return stored !== null;
  };
  const done = () => {
    const missing = !row || (there ? !row.mine : !row.other);
    // the other card next where it was not read here, else on along the route with the probe where it is
    if (missing) return setThere(!there);
    const here = ohms.route.indexOf(turn ?? "");
    choose(ohms.route.slice(here + 1).find((name) => !both.has(name)) ?? null);
  };
  const askedBack = there ? slip : measuring.slip;
  const shown: Ohms = {
    ...ohms,
    suspects: [],
    readings: rows.map(
      (entry) =>
        ({ point: entry.point, standing: true, verdict: MARK[entry.reads] }) as Ohms["readings"][number],
    ),
  };
  const ready = mayWork && other && point && (there ? other.off : ohms.power?.state === "off");
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[32rem_auto] lg:grid-cols-[58%_1fr] lg:grid-rows-1">
      {model.drawing ? (
        <Board
          drawing={model.drawing}
          orientation={orientation}
          setOrientation={setOrientation}
          notes={NO_NOTES}
          fit="board"
          title={t`Board of ${job.label}`}
          over={(view) => <Points ohms={shown} view={view} chosen={turn} choose={choose} />}
        />
      ) : (
        <UndrawnBoard
          model={model}
          orientation={orientation}
          setOrientation={setOrientation}
          points={shown.points}
          chosen={turn}
        />
      )}
      <WorkPanel job={job} step="Ohms">
        {head}
        <label className="block">
          <span className="block text-soft">
            <Trans>read beside</Trans>
          </span>
          <Select
            className="field w-full"
            aria-label={t`Read beside`}
            value={asked}
            onChange={(event) => {
              setChosen(null);
              setThere(false);
              setSearch(event.target.value ? { with: event.target.value } : {}, { replace: true });
            }}
          >
            <option value="">{t`choose a card of this model …`}</option>
            {others.map((entry) => (
              <option key={nameOf(entry)} value={nameOf(entry)}>
                {t`${entry.card}, ${entry.says}, ${entry.readings} read`}
              </option>
            ))}
          </Select>
        </label>
        {others.length === 0 && (
          <p className="text-soft">
            <Trans>
              No other card of this model is in the shop. A good one is captured from the model’s known-good
              page.
            </Trans>
          </p>
        )}
        <FormError problem={keeping.problem} />
        {other && mayWork && turn && (
          <fieldset className="grid grid-cols-2 gap-2" aria-label={t`Which card the probe is on`}>
            <OnCard
              label={t`this card`}
              card={job.serial}
              value={row?.mine}
              on={!there}
              onClick={() => setThere(false)}
            />
            <OnCard
              label={t`the other`}
              card={other.card}
              value={row?.other}
              on={there}
              onClick={() => setThere(true)}
            />
          </fieldset>
        )}
        {other && there && !other.off && (
          <div className="border-next border-l-8 bg-next-wash px-4 py-3" data-testid="other-gate">
            <p className="font-bold">
              <Trans>{other.card}: is it unplugged and discharged too?</Trans>
            </p>
            <button
              type="button"
              className="button mt-2"
              onKeyDown={(event) => event.key === "Enter" && event.preventDefault()}
              onClick={async () => {
                if (!other.job) return;
                const params = { path: { number: other.job } };
                await api.POST("/api/v1/jobs/{number}/power", {
                  params,
                  body: { id: newId(), state: "off" },
                });
                await queries.invalidateQueries({ queryKey: keyOf("beside", job.number) });
              }}
            >
              <Trans>{other.card} is unplugged and discharged</Trans>
            </button>
          </div>
        )}
        {askedBack && (
          <Slip
            said={askedBack.said}
            sure={async () => {
              if (await store({ ...askedBack.entry, sure: true }, held)) done();
            }}
            forget={() => {
              measuring.forget();
              setSlip(null);
            }}
          />
        )}
        {ready && (
          <>
            <ReadingField
              key={`${point.name} ${there} ${measuring.stored}`}
              point={point}
              points={ohms.points}
              meter={ohms.meters.find((meter) => meter.name === usual.meter)}
              card={{ serial: there ? other.card : job.serial, board: job.board_model, off: [] }}
              usual={usual}
              setUsual={setUsual}
              held={held}
              read={store}
              begun={() => setChosen(turn)}
              done={done}
              back={() => choose(ohms.route[ohms.route.indexOf(point.name) - 1] ?? point.name)}
            />
            <Meters meters={ohms.meters} usual={usual} setUsual={setUsual} set={measuring.setMeter} />
          </>
        )}
        {other && !turn && (
          <p>
            <Trans>Both cards are read along the whole route.</Trans>
          </p>
        )}
        {other && <Differences rows={rows} mine={job.serial} other={other.card} choose={choose} />}
      </WorkPanel>
    </div>
  );
}

async function storeThere(other: Other, entry: ReadingEntry): Promise<{ data?: unknown }> {
  const body = { id: newId(), ...entry };
  if (other.job)
    return api.POST("/api/v1/jobs/{number}/readings", { params: { path: { number: other.job } }, body });
  const { point, value, mode = "", to = "", polarity = "", meter = "" } = entry;
  const quantity = entry.quantity === "diode" ? ("diode" as const) : ("resistance" as const);
  return api.POST("/api/v1/reference-cards/{reference}", {
    params: { path: { reference: other.reference ?? "" } },
    body: { id: newId(), point, value, mode, to, polarity, meter, quantity },
  });
}

interface OnCardProps {
  label: string;
  card: string;
  value: string | undefined;
  on: boolean;
  onClick: () => void;
}

/** One of the two cards: the one that the probe is on stands out, so that no reading goes to the wrong one. */
function OnCard({ label, card, value, on, onClick }: OnCardProps) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onClick}
      className={`rounded-md border-4 px-3 py-2 text-left ${on ? "border-next bg-next-wash" : "border-rule"}`}
    >
      <span className="block">{on ? t`probe on ${label}` : label}</span>
      <strong className="block font-mono text-xl">{card}</strong>
      <span className="block font-mono text-2xl">{value || "–"}</span>
    </button>
  );
}

interface DifferencesProps {
  rows: readonly Row[];
  mine: string;
  other: string;
  choose: (name: string) => void;
}

function Differences({ rows, mine, other, choose }: DifferencesProps) {
  const read = rows.filter((row) => row.reads !== "one");
  const differ = read.filter((entry) => entry.reads !== "alike");
  return (
    <section aria-labelledby="differ-title" data-testid="differences">
      <h3 id="differ-title" className="font-bold text-lg">
        <Trans>
          {differ.length} of {read.length} read on both differ
        </Trans>
      </h3>
      <table className="w-full border-separate border-spacing-0">
        <thead>
          <tr className="text-left">
            <th scope="col">
              <Trans>point</Trans>
            </th>
            <th scope="col" className="text-right font-mono">
              {mine}
            </th>
            <th scope="col" className="text-right font-mono">
              {other}
            </th>
            <th scope="col" className="pl-4 font-normal text-soft">
              <Trans>it reads</Trans>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={`${row.point} ${row.to} ${row.quantity}`} title={row.says}>
              <th scope="row" className="border-rule border-t text-left">
                <button
                  type="button"
                  className="button-plain -ml-2 font-mono"
                  onClick={() => choose(row.point)}
                >
                  {row.point}
                </button>
              </th>
              <td className="border-rule border-t text-right font-mono">{row.mine || "–"}</td>
              <td className="border-rule border-t text-right font-mono">{row.other || "–"}</td>
              <td
                className={`border-rule border-t pl-4 ${row.reads === "alike" || row.reads === "one" ? "text-soft" : "font-bold text-suspect"}`}
              >
                {WORD[row.reads]}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
