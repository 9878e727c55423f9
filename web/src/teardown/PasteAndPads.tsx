import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type JobDetail, newId } from "../api/client";
import { pasteAndPadsQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { Checkbox } from "../shared/Checkbox";
import { FormError } from "../shared/FormError";
import { NumberField, SelectField, TextField } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { moment } from "../shared/words";

const MATERIALS = { paste: t`paste`, pad: t`pad`, putty: t`putty` } as const;
type Material = keyof typeof MATERIALS;

/** What lies between the cooler and what it cools: as it was found, as it was fitted. */
export function PasteAndPads({ job, way, mayWork }: { job: JobDetail; way: "off" | "on"; mayWork: boolean }) {
  const params = { path: { number: job.number } };
  const queries = useQueryClient();
  const key = pasteAndPadsQuery(job.number).queryKey;
  const noted = useQuery(pasteAndPadsQuery(job.number));
  const keeping = useKeeping([keyOf("owed", job.number)]);
  const [cooled, setCooled] = useState("core");
  const [material, setMaterial] = useState<Material>("paste");
  const [name, setName] = useState("");
  const [thick, setThick] = useState("");
  const [state, setState] = useState("");
  const [reused, setReused] = useState(false);
  if (!noted.data) return null;
  const { layers, states } = noted.data;
  const number = thick.trim() ? Number(thick.replace(",", ".")) : null;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const body = {
      id: newId(),
      way,
      cooled: cooled as "core",
      material,
      name: name.trim(),
      thickness_mm: number,
      state: (way === "off" ? state : "") as "good",
      reused: way === "on" && reused,
    };
    const kept = await keeping.keep(async () => {
      const answer = await api.POST("/api/v1/jobs/{number}/paste-and-pads", { params, body });
      if (answer.data) queries.setQueryData(key, answer.data);
      return answer;
    });
    if (!kept) return;
    setThick("");
    setState("");
    setReused(false);
  };
  const words = (kind: string, of: { kind: string; words: string }[]) =>
    of.find((entry) => entry.kind === kind)?.words ?? kind;
  return (
    <section aria-label={t`Paste and pads`} className="space-y-2 border-rule border-t pt-3">
      <h2 className="font-bold">
        <Trans>Paste and pads</Trans>
      </h2>
      {layers.length > 0 && (
        <ul data-testid="paste-and-pads">
          {layers.map(({ layer, doubt }) => (
            <li key={layer.id} className="border-rule border-t py-1">
              {layer.way === "off" ? t`Found on the` : t`Fitted on the`}{" "}
              {words(layer.cooled, noted.data.cooled)}:{" "}
              <strong>
                {layer.material} {layer.name}
              </strong>
              {layer.thickness_mm != null && t` ${layer.thickness_mm} mm`}
              {layer.state && layer.state !== "good" && `, ${words(layer.state, states)}`}
              {layer.reused && t`, used again`}{" "}
              <span className="text-soft">
                {layer.by}, {moment(layer.at)}
              </span>
              {doubt && <p className="border-suspect border-l-4 pl-3">{doubt}</p>}
            </li>
          ))}
        </ul>
      )}
      {mayWork && (
        <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
          <SelectField
            label={t`on the`}
            value={cooled}
            onChange={setCooled}
            options={noted.data.cooled.map((entry) => [entry.kind, entry.words] as const)}
          />
          <SelectField
            label={t`material`}
            value={material}
            onChange={setMaterial}
            options={Object.entries(MATERIALS) as [Material, string][]}
          />
          <TextField label={t`type`} value={name} onChange={setName} maxLength={80} />
          {material !== "paste" && <NumberField label={t`thickness, mm`} value={thick} onChange={setThick} />}
          {way === "off" ? (
            <SelectField
              label={t`how it was`}
              value={state}
              onChange={setState}
              options={[["", "look"], ...states.map((entry) => [entry.kind, entry.words] as const)]}
            />
          ) : (
            <Checkbox label={t`used again`} checked={reused} onChange={setReused} />
          )}
          <button type="submit" className="button" disabled={Number.isNaN(number) || keeping.busy}>
            {way === "off" ? t`Note how it was found` : t`Note what is fitted`}
          </button>
        </form>
      )}
      <FormError problem={keeping.problem} />
    </section>
  );
}
