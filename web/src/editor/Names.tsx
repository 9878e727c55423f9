import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { BoardDocument, Edit } from "./document";
import { Text } from "./Fields";

interface NamesProps {
  document: BoardDocument;
  apply: (edit: Edit) => Promise<BoardDocument | null>;
  families: { slug: string; name: string }[];
  isNew: boolean;
}

/** What the model is called, and which core it carries. */
export function Names({ document, apply, families, isNew }: NamesProps) {
  const set = (key: string, value: string | null) =>
    void apply({ do: "set", target: ["board", 0], key, value: value || null });
  const named = async (name: string) => {
    await apply({ do: "set", target: ["board", 0], key: "name", value: name || null });
    if (isNew && !document.id) {
      const id = name
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, "-")
        .replace(/^-|-$/g, "");
      if (id) set("id", id.slice(0, 64));
    }
  };
  return (
    <div className="grid gap-3 lg:grid-cols-2">
      <Text label={t`Name`} value={document.name ?? ""} onChange={(value) => void named(value)} />
      <Text
        label={t`Revision`}
        value={document.revision ?? ""}
        onChange={(value) => set("revision", value)}
      />
      <Text
        label={t`Id, for files`}
        value={document.id ?? ""}
        onChange={(value) => set("id", value)}
        locked={!isNew}
        mono
      />
      <label className="block">
        <span className="block text-soft">
          <Trans>Core family</Trans>
        </span>
        <Select
          className="field w-full"
          value={document.family ?? ""}
          onChange={(event) => set("family", event.target.value)}
        >
          <option value="">{t`not known`}</option>
          {families.map((family) => (
            <option key={family.slug} value={family.slug}>
              {family.name}
            </option>
          ))}
        </Select>
      </label>
      <label className="block">
        <span className="block text-soft">
          <Trans>Lanes of the slot that are wired</Trans>
        </span>
        <Select
          className="field w-full"
          value={document.slot?.lanes ?? 16}
          onChange={(event) => {
            const lanes = Number(event.target.value);
            void apply({
              do: "set",
              target: ["board", 0],
              key: "slot",
              value: lanes === 16 ? null : { lanes },
            });
          }}
        >
          {[16, 8, 4, 2, 1].map((lanes) => (
            <option key={lanes}>{lanes}</option>
          ))}
        </Select>
      </label>
    </div>
  );
}
