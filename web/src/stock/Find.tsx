import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { bearersQuery, substitutesQuery } from "../queries/stock";
import { FormError } from "../shared/FormError";
import { NumberField, TextField } from "../shared/fields";
import { useFromAddress } from "../shared/useFromAddress";
import { lifeAt } from "./useStock";

/** What may serve instead: connectors by pitch, pins and anchors; parts by marking over all boards and donors. */
export function Find() {
  return (
    <div className="grid gap-8 lg:grid-cols-2">
      <Connectors />
      <Markings />
    </div>
  );
}

function Connectors() {
  const [query, setQuery] = useSearchParams();
  const [typed, setTyped] = useState({
    pitch: query.get("pitch") ?? "",
    pins: query.get("pins") ?? "",
    rows: query.get("rows") ?? "1",
    anchors: query.get("anchors") ?? "0",
  });
  const figure = (name: string) => Number((query.get(name) ?? "").replace(",", "."));
  const asked = {
    pitch_mm: figure("pitch"),
    pins: figure("pins"),
    rows: figure("rows"),
    anchors: figure("anchors"),
  };
  const found = useQuery({ ...substitutesQuery(asked), enabled: query.get("pitch") !== null });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setQuery({ ...Object.fromEntries(query), ...typed });
  };
  return (
    <section aria-labelledby="connectors-title">
      <h2 id="connectors-title" className="font-bold text-xl">
        <Trans>A connector that may serve</Trans>
      </h2>
      <p className="text-soft">
        <Trans>Also ones sold for other equipment. A longer one may be cut; try the mating cable.</Trans>
      </p>
      <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
        <NumberField
          label={t`pitch, mm`}
          value={typed.pitch}
          onChange={(pitch) => setTyped({ ...typed, pitch })}
        />
        <NumberField label={t`pins`} value={typed.pins} onChange={(pins) => setTyped({ ...typed, pins })} />
        <NumberField label={t`rows`} value={typed.rows} onChange={(rows) => setTyped({ ...typed, rows })} />
        <NumberField
          label={t`anchors`}
          value={typed.anchors}
          onChange={(anchors) => setTyped({ ...typed, anchors })}
        />
        <button type="submit" className="button" disabled={!typed.pitch.trim() || !typed.pins.trim()}>
          <Trans>Find one</Trans>
        </button>
      </form>
      {found.isError && <FormError problem={found.error} />}
      {found.data && (
        <ol className="mt-3" aria-label={t`Connectors that may serve`}>
          {found.data.map((entry) => (
            <li key={entry.label} className="border-rule border-t py-2">
              <p>
                <Link className="button-plain -ml-2 font-bold font-mono text-lg" to={lifeAt(entry.label)}>
                  {entry.label}
                </Link>{" "}
                {entry.where}
                {entry.seen_on && t`, also seen on ${entry.seen_on}`}
              </p>
              <p>
                <strong>
                  <Trans>Agrees:</Trans>
                </strong>{" "}
                {entry.fits.agrees.join(", ")}.
                {entry.fits.unknown.length > 0 && (
                  <>
                    {" "}
                    <strong>
                      <Trans>Look at:</Trans>
                    </strong>{" "}
                    {entry.fits.unknown.join(", ")}.
                  </>
                )}
              </p>
            </li>
          ))}
          {found.data.length === 0 && (
            <li className="text-soft">
              <Trans>
                None of that pitch with pins enough. Note connectors in Stock, also of other equipment.
              </Trans>
            </li>
          )}
        </ol>
      )}
    </section>
  );
}

function Markings() {
  const [query, setQuery] = useSearchParams();
  const [typed, setTyped] = useFromAddress("marking");
  const marking = query.get("marking") ?? "";
  const found = useQuery({ ...bearersQuery(marking), enabled: marking !== "" });
  return (
    <section aria-labelledby="markings-title">
      <h2 id="markings-title" className="font-bold text-xl">
        <Trans>A part by its marking</Trans>
      </h2>
      <p className="text-soft">
        <Trans>On which boards it sits, and which donor still has it.</Trans>
      </p>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          setQuery({ ...Object.fromEntries(query), marking: typed.trim() });
        }}
      >
        <TextField
          label={t`marking, as printed`}
          value={typed}
          onChange={setTyped}
          mono
          wide="w-44"
          maxLength={120}
        />
        <button type="submit" className="button" disabled={!typed.trim()}>
          <Trans>Find it</Trans>
        </button>
      </form>
      {found.data && (
        <ul className="mt-3" aria-label={t`Boards that bear it`}>
          {found.data.map((entry) => (
            <li key={`${entry.slug} ${entry.designator}`} className="border-rule border-t py-2">
              <Link className="button-plain -ml-2" to={`/library/${entry.slug}`}>
                {entry.model}
              </Link>{" "}
              <strong className="font-mono">{entry.designator}</strong>, a {entry.kind}, {entry.side}.{" "}
              {entry.donors.length > 0 ? (
                <>
                  <Trans>Still on </Trans>
                  {entry.donors.map((serial) => (
                    <Link
                      key={serial}
                      className="button-plain whitespace-nowrap font-mono"
                      to={`/stock/donors?card=${encodeURIComponent(serial)}`}
                    >
                      {serial}
                    </Link>
                  ))}
                </>
              ) : (
                <span className="text-soft">
                  <Trans>No donor of it here.</Trans>
                </span>
              )}
            </li>
          ))}
          {found.data.length === 0 && (
            <li className="text-soft">
              <Trans>No drawn board bears “{marking}”. Note markings in the board model.</Trans>
            </li>
          )}
        </ul>
      )}
    </section>
  );
}
