import { Trans } from "@lingui/react/macro";

interface SlipProps {
  said: string;
  sure: () => Promise<void>;
  forget: () => void;
}

/** A reading about a thousandfold off is asked back before it is stored: ohms typed for kilohms, mostly. */
export function Slip({ said, sure, forget }: SlipProps) {
  return (
    <div role="alert" className="border-l-8 border-next bg-next-wash px-4 py-3" data-testid="slip">
      <p className="text-lg font-bold">{said}</p>
      <p className="mt-2 flex gap-3">
        <button type="button" className="button" onClick={() => void sure()}>
          <Trans>Yes, store it</Trans>
        </button>
        <button type="button" className="button" onClick={forget}>
          <Trans>No, type it again</Trans>
        </button>
      </p>
    </div>
  );
}
