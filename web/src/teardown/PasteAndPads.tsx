import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, data, type JobDetail, newId } from "../api/client";
import { Figure, Line, Pick } from "../shared/fields";
import { useKeeping } from "../shared/keeping";
import { Tick } from "../shared/Tick";
import { Wrong } from "../shared/Wrong";
import { moment } from "../shared/words";

const MATERIALS = { paste: t`paste`, pad: t`pad`, putty: t`putty` } as const;
type Material = keyof typeof MATERIALS;

/** What lies between the cooler and what it cools: as it was found, as it was fitted. */
export function PasteAndPads({ job, way, mayWork }: { job: JobDetail; way: "off" | "on"; mayWork: boolean }) {
  const params = { path: { number: job.number } };
  const queries = useQueryClient();
  const key = ["paste-and-pads", job.number];
  const noted = useQuery({
    queryKey: key,
    queryFn: async () => data(await api.GET("/api/v1/jobs/{number}/paste-and-pads", { params })),
  });
  const keeping = useKeeping([["owed", job.number]]);
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
    of.find((one) => one.kind === kind)?.words ?? kind;
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
          <Pick
            says={t`on the`}
            value={cooled}
            set={setCooled}
            words={noted.data.cooled.map((one) => [one.kind, one.words] as const)}
          />
          <Pick
            says={t`material`}
            value={material}
            set={setMaterial}
            words={Object.entries(MATERIALS) as [Material, string][]}
          />
          <Line says={t`type`} value={name} set={setName} maxLength={80} />
          {material !== "paste" && <Figure says={t`thickness, mm`} value={thick} set={setThick} />}
          {way === "off" ? (
            <Pick
              says={t`how it was`}
              value={state}
              set={setState}
              words={[["", "look"], ...states.map((one) => [one.kind, one.words] as const)]}
            />
          ) : (
            <Tick says={t`used again`} on={reused} set={setReused} />
          )}
          <button type="submit" className="button" disabled={Number.isNaN(number) || keeping.busy}>
            {way === "off" ? t`Note how it was found` : t`Note what is fitted`}
          </button>
        </form>
      )}
      <Wrong problem={keeping.problem} />
    </section>
  );
}
