import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { api, data } from "../api/client";
import type { components } from "../api/schema";
import type { Meter } from "../ohms/useMeter";

type Mark = components["schemas"]["MeterMarkRequest"];
type Taught = components["schemas"]["TaughtMeter"];

interface TeachMeterProps {
  meter: Meter;
  set: (meter: { name: string; lead_ohms: number; address: string; reader: unknown }) => Promise<boolean>;
}

const TOKEN = /[^\s:=(),;|[\]<>]+|[\s]+|[:=(),;|[\]<>]/g;
const COLUMNS = [
  ["value", t`the value`],
  ["unit", t`its unit`],
  ["over", "over-limit"],
] as const;

/** Lines of a meter are heard, words are clicked, and what they are is said; the sample shows at once how it is read. */
export function TeachMeter({ meter, set }: TeachMeterProps) {
  const [sample, setSample] = useState("");
  const [marks, setMarks] = useState<Mark[]>([]);
  const [word, setWord] = useState<Omit<Mark, "column"> | null>(null);
  const [unit, setUnit] = useState("");
  const [said, setSaid] = useState("");
  const [taught, setTaught] = useState<Taught | null>(null);
  const lines = sample.split("\n");
  const listen = async () => {
    setSaid(t`Listening: read something, and lift the probes once …`);
    try {
      const path = { meter: meter.id };
      const heard = data(await api.POST("/api/v1/meters/{meter}/heard", { params: { path } }));
      // the same lines again teach nothing more
      const fresh = [...new Set([...lines, ...heard.lines])].filter(Boolean);
      setSample(fresh.join("\n"));
      setSaid(heard.lost || t`${heard.lines.length} lines heard.`);
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  const learn = async (next: Mark[], of = unit) => {
    setMarks(next);
    setWord(null);
    setTaught(null);
    setSaid("");
    if (!next.some((entry) => entry.column === "value")) return;
    try {
      setTaught(data(await api.POST("/api/v1/meters/taught", { body: { sample, marks: next, unit: of } })));
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  const keep = async () => {
    if (!taught) return;
    const { name, lead_ohms = 0, address = "" } = meter;
    if (await set({ name, lead_ohms, address, reader: taught.reader })) {
      setSample("");
      setMarks([]);
      setTaught(null);
      setSaid(t`${meter.name} is read from its lines now.`);
    }
  };
  return (
    <section aria-label={t`Lines of ${meter.name}`} className="mt-4" data-testid="teach-meter">
      <h3 className="font-bold text-lg">
        <Trans>
          Its lines{" "}
          <span className="font-normal text-soft">
            {meter.taught ? t`are taught` : t`are not taught yet`}
          </span>
        </Trans>
      </h3>
      <p className="flex flex-wrap items-center gap-3">
        <button type="button" className="button" onClick={() => void listen()}>
          <Trans>Listen to it</Trans>
        </button>
        <span role="status">{said}</span>
      </p>
      {sample && (
        <>
          <p className="mt-2">
            <Trans>Click the words of one reading, then of one line that shows over-limit.</Trans>
          </p>
          <ol className="mt-1 bg-tray py-1 font-mono" aria-label={t`What it prints`}>
            {lines.map((line, number) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a line is known by its number, as its marks are
              <li key={number} className="grid grid-cols-[1fr_10rem] items-baseline gap-3 px-3">
                <span className="whitespace-pre">
                  {[...line.matchAll(TOKEN)].map((found) => (
                    <Token
                      key={found.index}
                      text={found[0]}
                      mark={marks.find(
                        (mark) => mark.line === number && mark.start <= found.index && found.index < mark.end,
                      )}
                      chosen={word?.line === number && word.start === found.index}
                      choose={() =>
                        setWord({ line: number, start: found.index, end: found.index + found[0].length })
                      }
                    />
                  ))}
                </span>
                <span className="font-sans">{taught?.lines[number]?.says}</span>
              </li>
            ))}
          </ol>
          {word && (
            <fieldset className="mt-2 flex flex-wrap items-center gap-3">
              <legend className="sr-only">
                <Trans>what it is</Trans>
              </legend>
              <Trans>It is</Trans>
              {COLUMNS.map(([column, label]) => (
                <button
                  key={column}
                  type="button"
                  className="button"
                  onClick={() =>
                    void learn([
                      ...marks.filter((mark) => mark.line !== word.line || mark.start !== word.start),
                      { ...word, column },
                    ])
                  }
                >
                  {label}
                </button>
              ))}
              <button
                type="button"
                className="button-plain"
                onClick={() =>
                  void learn(marks.filter((mark) => mark.line !== word.line || mark.start !== word.start))
                }
              >
                <Trans>nothing</Trans>
              </button>
            </fieldset>
          )}
          <p className="mt-2 flex flex-wrap items-end gap-3">
            <label>
              <span className="block text-soft">
                <Trans>unit, where it prints none</Trans>
              </span>
              <Select
                className="field"
                value={unit}
                onChange={(event) => {
                  setUnit(event.target.value);
                  void learn(marks, event.target.value);
                }}
              >
                <option value="">{t`it prints one`}</option>
                <option value="ohm">Ω</option>
                <option value="kohm">{t`kΩ`}</option>
                <option value="V">V</option>
                <option value="mV">{t`mV`}</option>
              </Select>
            </label>
            <button type="button" className="button" disabled={!taught} onClick={() => void keep()}>
              <Trans>Read it like this</Trans>
            </button>
          </p>
        </>
      )}
    </section>
  );
}

function Token({
  text,
  mark,
  chosen,
  choose,
}: {
  text: string;
  mark: Mark | undefined;
  chosen: boolean;
  choose: () => void;
}) {
  if (!text.trim()) return <span>{text}</span>;
  const style = mark
    ? "border-ink border-b-4 font-bold"
    : chosen
      ? "border-next border-b-4 bg-next-wash"
      : "border-transparent border-b-2 hover:border-edge";
  return (
    <button type="button" className={`min-h-8 px-0.5 ${style}`} title={mark?.column} onClick={choose}>
      {text}
    </button>
  );
}
