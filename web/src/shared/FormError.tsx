/** What speaks against an entry; what was typed stays where it is. */
import { Trans } from "@lingui/react/macro";
export function FormError({ problem }: { problem: { message: string } | null }) {
  if (!problem) return null;
  return (
    <p role="alert" className="border-suspect border-l-4 pl-3">
      <Trans>{problem.message} What you entered is kept here.</Trans>
    </p>
  );
}
