import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { BoardDocument, Edit } from "./document";
import { NumberField } from "./Fields";

interface NextChipsProps {
  document: BoardDocument;
  apply: (edit: Edit) => Promise<BoardDocument | null>;
  size: readonly [number, number];
  setSize: (size: [number, number]) => void;
  called: string;
  setCalled: (called: string) => void;
}

/** What the next click on the board sets down: its size and name; and the chips numbered, or doubled behind. */
export function NextChips({ document, apply, size, setSize, called, setCalled }: NextChipsProps) {
  return (
    <div className="mt-2 flex flex-wrap items-end gap-3">
      <NumberField label={t`wide, mm`} value={size[0]} onChange={(value) => setSize([value, size[1]])} />
      <NumberField label={t`high, mm`} value={size[1]} onChange={(value) => setSize([size[0], value])} />
      <label className="block w-40">
        <span className="block text-soft">
          <Trans>next is called</Trans>
        </span>
        <input
          className="field w-full font-mono"
          placeholder={document.sites?.length ? t`counting on` : "U11"}
          maxLength={20}
          value={called}
          onChange={(event) => setCalled(event.target.value.trim())}
        />
      </label>
      <button
        type="button"
        className="button"
        onClick={() => {
          const [, prefix, first] = /^(.*?)([0-9]+)$/.exec(called) ?? ["", "U", "11"];
          void apply({ do: "number", prefix, first: Number(first) });
          setCalled("");
        }}
      >
        <Trans>Number round the core from {/[0-9]$/.test(called) ? called : "U11"}</Trans>
      </button>
      <button type="button" className="button" onClick={() => void apply({ do: "twins" })}>
        <Trans>A twin behind each</Trans>
      </button>
    </div>
  );
}
