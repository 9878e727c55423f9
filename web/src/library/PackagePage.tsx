import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { packagesQuery } from "../queries/library";
import { Empty, LoadError, Loading } from "../shared/states";

const FILL = {
  signal: "fill-sheet stroke-ink",
  supply: "fill-ink stroke-ink",
  ground: "fill-edge stroke-edge",
  unused: "fill-none stroke-rule",
} as const;

/** A package's ball map, as seen through the package with A1 at the upper left. */
export function PackagePage() {
  const { name = "" } = useParams();
  const [chosen, setChosen] = useState("");
  const packages = useQuery(packagesQuery());
  if (packages.isPending) return <Loading what={t`Reading the packages`} />;
  if (packages.isError) return <LoadError problem={packages.error} again={() => packages.refetch()} />;
  const found = packages.data.find((entry) => entry.name === name);
  if (!found) return <Empty title={t`No package ${name}`} next={t`Go to the library`} to="/library" />;
  const wide = Math.max(...found.balls.map((ball) => ball.column)) + 1;
  const high = Math.max(...found.balls.map((ball) => ball.row)) + 1;
  const shown = found.balls.find((ball) => ball.ball === chosen);
  const counts = (["signal", "supply", "ground", "unused"] as const).map(
    (word) => [word, found.balls.filter((ball) => ball.ball_class === word).length] as const,
  );
  return (
    <main className="space-y-4 p-6">
      <Link className="button-plain -ml-2" to="/library">
        <Trans>Library</Trans>
      </Link>
      <h1 className="text-3xl font-bold">
        <Trans>Package {found.name}</Trans>
      </h1>
      <p>
        <Trans>
          {found.balls.length} balls, {found.lines} data lines named. Seen through the package, ball A1 at the
          upper left.
        </Trans>
      </p>
      <ul className="flex flex-wrap gap-6">
        {counts.map(([word, many]) => (
          <li key={word} className="flex items-center gap-2">
            <svg viewBox="-0.5 -0.5 1 1" className="size-5" aria-hidden="true">
              <circle r={0.4} strokeWidth={0.08} className={FILL[word]} />
            </svg>
            {many} {word}
          </li>
        ))}
      </ul>
      <p className="min-h-8 font-mono text-2xl font-bold" role="status">
        {shown ? `${shown.ball} ${shown.signal || "–"}, ${shown.ball_class}` : t`Point at a ball`}
      </p>
      <svg
        viewBox={`-1 -1 ${wide + 1} ${high + 1}`}
        className="max-h-[60vh] w-full rounded border border-rule bg-tray"
        role="img"
        aria-label={t`Ball map of ${found.name}`}
      >
        {found.balls.map((ball) => (
          // biome-ignore lint/a11y/noStaticElementInteractions: the table below holds the same for the keyboard
          <circle
            key={ball.ball}
            cx={ball.column}
            cy={ball.row}
            r={0.36}
            strokeWidth={ball.ball === chosen ? 0.16 : 0.07}
            className={FILL[ball.ball_class]}
            onPointerEnter={() => setChosen(ball.ball)}
            onClick={() => setChosen(ball.ball)}
          />
        ))}
      </svg>
      <details>
        <summary className="cursor-pointer py-1 font-semibold">
          <Trans>All balls as a list</Trans>
        </summary>
        <p className="font-mono">
          {found.balls.map((ball) => `${ball.ball} ${ball.signal || "–"} (${ball.ball_class})`).join(", ")}
        </p>
      </details>
      <a
        className="button inline-grid place-items-center"
        href={`/api/v1/packages/${encodeURIComponent(found.name)}/file`}
        download
      >
        <Trans>Export {found.name}.csv</Trans>
      </a>
    </main>
  );
}
