import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { reportQuery } from "../queries/job";
import { LoadError, Loading } from "../shared/states";

/** The report as the customer will have it. */
export function ReportSheet({ number }: { number: number }) {
  const report = useQuery(reportQuery(number));
  if (report.isError) return <LoadError problem={report.error} again={() => report.refetch()} />;
  if (!report.data) return <Loading what={t`Writing the report`} />;
  const said = report.data;
  return (
    <article className="min-h-0 overflow-y-auto bg-tray p-6" data-testid="report">
      <div className="mx-auto max-w-2xl space-y-4 border border-rule bg-sheet p-8">
        <header className="flex items-baseline justify-between gap-3">
          <h2 className="font-bold font-mono text-3xl">{said.label}</h2>
          <a
            className="button-plain"
            href={`/api/v1/jobs/${number}/report.pdf`}
            target="_blank"
            rel="noreferrer"
          >
            <Trans>As PDF</Trans>
          </a>
        </header>
        <p>
          <Trans>
            {said.card}, serial <span className="font-mono">{said.serial}</span>
          </Trans>
        </p>
        <Part title={t`You told us`}>“{said.complaint}”</Part>
        {said.found && <Part title={t`We found`}>{said.found}</Part>}
        {said.no_fix && <Part title={t`It cannot be repaired`}>{said.no_fix}</Part>}
        {said.done.length > 0 && <Part title={t`We did`}>{lines(said.done)}</Part>}
        {said.fitted.length > 0 && (
          <Part title={t`Fitted`}>{lines(said.fitted.map((entry) => `${entry.site}: ${entry.origin}`))}</Part>
        )}
        {said.removed.length > 0 && <Part title={t`Taken off and not put back`}>{lines(said.removed)}</Part>}
        {said.cooling.length > 0 && <Part title={t`Paste and pads`}>{lines(said.cooling)}</Part>}
        {said.proof.length > 0 && (
          <Part title={t`Proof`}>
            <table className="w-full">
              <tbody>
                {said.proof.map(([name, result, why]) => (
                  <tr key={name} className="border-rule border-t align-top">
                    <th className="py-1 pr-3 text-left font-normal">{name}</th>
                    <td className="pr-3">{result}</td>
                    <td className="text-soft">{why}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Part>
        )}
        {said.pairs.length > 0 && (
          <Part title={t`Before and after`}>
            {lines(
              said.pairs.map(
                ([name, before, after]) =>
                  t`${name ?? ""}: ${before || t`not taken`} before, ${after || t`not taken`} after`,
              ),
            )}
          </Part>
        )}
        {(said.weak.length > 0 || said.handling) && (
          <Part title={t`Weak points and handling`}>
            {said.weak.map((name) => (
              <span key={name} className="block">
                {name}
              </span>
            ))}
            {said.handling}
          </Part>
        )}
        <Part title={t`Warranty and price`}>
          {said.warranty ? t`We stand by our work until ${said.warranty}.` : t`No warranty.`}
          {said.price && t` Price: ${said.price}.`}
        </Part>
      </div>
    </article>
  );
}

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section>
      <h3 className="font-bold text-lg">{title}</h3>
      {children}
    </section>
  );
}

function lines(said: readonly string[]) {
  return (
    <ul>
      {said.map((name) => (
        <li key={name}>{name}</li>
      ))}
    </ul>
  );
}
