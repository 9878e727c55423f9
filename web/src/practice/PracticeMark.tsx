import { Trans } from "@lingui/react/macro";

/** Marks a virtual card on every screen that shows it. */
export function PracticeMark() {
  return (
    <strong className="bg-ink px-1.5 text-sheet">
      <Trans>practice</Trans>
    </strong>
  );
}
