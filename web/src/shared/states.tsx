import { Trans } from "@lingui/react/macro";
import { Link } from "react-router";

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-8 text-soft">
      {what} …
    </p>
  );
}

/** What happened, what was kept, what to do. */
export function LoadError({ problem, again }: { problem: Error; again?: () => void }) {
  return (
    <div role="alert" className="m-8 border-l-4 border-suspect bg-sheet p-4">
      <p>{problem.message}</p>
      {again && (
        <button type="button" className="button mt-3" onClick={again}>
          <Trans>Try again</Trans>
        </button>
      )}
    </div>
  );
}

export function Empty({ title, next, to }: { title: string; next: string; to: string }) {
  return (
    <div className="p-8">
      <h1 className="text-xl font-bold">{title}</h1>
      <Link className="button-plain mt-2 inline-block" to={to}>
        {next}
      </Link>
    </div>
  );
}
