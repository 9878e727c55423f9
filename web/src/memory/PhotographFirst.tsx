import { Trans } from "@lingui/react/macro";
import { useCamera } from "../job/camera";
import { useLook } from "../look/useLook";
import { listed } from "../shared/words";

/** A reminder before something is lifted: how it lay is lost with it. */
export function PhotographFirst({ number, what }: { number: number; what: readonly string[] }) {
  const { look } = useLook(number);
  const camera = useCamera();
  if (!look.data) return null;
  const missing = what.filter((name) => !look.data.photographs.some((picture) => picture.before === name));
  const first = missing[0];
  if (!first)
    return (
      <p className="text-soft">
        <Trans>Photographed before: {listed([...what])}.</Trans>
      </p>
    );
  return (
    <p className="flex items-center gap-3 border-l-4 border-ink bg-tray px-3 py-2">
      <span className="flex-1">
        <Trans>
          Photograph {listed(missing.slice(0, 4))} before it is lifted: pin 1, balls, what lies beside it.
        </Trans>
      </span>
      <button type="button" className="button" onClick={() => camera(first)}>
        <Trans>Photograph</Trans>
      </button>
    </p>
  );
}
