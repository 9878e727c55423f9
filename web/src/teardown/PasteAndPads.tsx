import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { api, type JobDetail, newId } from "../api/client";
import type { components } from "../api/schema";
import { pasteAndPadsQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { FormCheckbox, FormNumber, FormSelect, FormText } from "../shared/formFields";
import { useKeeping } from "../shared/keeping";
import { numberOf } from "../shared/numbers";
import { optionsOf, useKinds } from "../shared/useKinds";
import { moment } from "../shared/words";

type Material = components["schemas"]["NewPasteOrPadRequest"]["material"];

/** What lies between the cooler and what it cools: as it was found, as it was fitted. */
export function PasteAndPads({ job, way, mayWork }: { job: JobDetail; way: "off" | "on"; mayWork: boolean }) {
  const { materials } = useKinds();
  const params = { path: { number: job.number } };
  const queries = useQueryClient();
  const key = pasteAndPadsQuery(job.number).queryKey;
  const noted = useQuery(pasteAndPadsQuery(job.number));
  const keeping = useKeeping([keyOf("owed", job.number)]);
  const { control, handleSubmit, watch, setValue } = useForm<{
    cooled: string;
    material: Material;
    name: string;
    thick: string;
    state: string;
    reused: boolean;
  }>({
    defaultValues: {
      cooled: "core",
      material: "paste",
      name: "",
      thick: "",
      state: "",
      reused: false,
    },
  });
  const { cooled, material, name, thick, state, reused } = watch();
  if (!noted.data) return null;
  const { layers, states } = noted.data;
  const number = numberOf(thick);
  const submit = handleSubmit(async () => {
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
    setValue("thick", "");
    setValue("state", "");
    setValue("reused", false);
  });
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
          <FormSelect
            control={control}
            name="cooled"
            label={t`on the`}
            options={noted.data.cooled.map((entry) => [entry.kind, entry.words] as const)}
          />
          <FormSelect
            control={control}
            name="material"
            label={t`material`}
            options={optionsOf<Material>(materials)}
          />
          <FormText control={control} name="name" label={t`type`} maxLength={80} />
          {material !== "paste" && <FormNumber control={control} name="thick" label={t`thickness, mm`} />}
          {way === "off" ? (
            <FormSelect
              control={control}
              name="state"
              label={t`how it was`}
              options={[["", "look"], ...states.map((entry) => [entry.kind, entry.words] as const)]}
            />
          ) : (
            <FormCheckbox control={control} name="reused" label={t`used again`} />
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
