import { Trans } from "@lingui/react/macro";

/** These say themselves where the entry is. */
const OWN_WORDS = new Set(["away", "kept"]);

interface FormErrorProps {
  problem: { message: string; code?: string } | null;
  /** Nothing was typed that could be lost. */
  plain?: boolean;
}

/** Why an entry was not taken; what was typed for it stays where it is. */
export function FormError({ problem, plain = false }: FormErrorProps) {
  if (!problem) return null;
  const why = /[.!?]$/.test(problem.message) ? problem.message : `${problem.message}.`;
  return (
    <p role="alert" className="border-suspect border-l-4 pl-3">
      {plain || OWN_WORDS.has(problem.code ?? "") ? why : <Trans>{why} What you entered is kept here.</Trans>}
    </p>
  );
}
