import { Select } from "@headlessui/react";
import { Trans } from "@lingui/react/macro";
import { useForm } from "react-hook-form";
import { api, type JobDetail, newId } from "../api/client";
import { keyOf } from "../queries/keys";
import { FormError } from "../shared/FormError";
import { useKeeping } from "../shared/keeping";
import { useKinds } from "../shared/useKinds";

/** Waiting on: waiting is a state with a reason and a date; where the card lies, how pressing it is. */
export function WhoseMove({ job }: { job: JobDetail }) {
  const { moves } = useKinds();
  const { register, handleSubmit, watch } = useForm({
    defaultValues: {
      move: job.move,
      waits_for: job.waits_for ?? "",
      due: job.due ?? "",
      place: job.place ?? "",
      express: job.express ?? false,
    },
  });
  const entry = watch();
  const { problem, keep } = useKeeping([
    keyOf("job", String(job.number)),
    keyOf("shelf"),
    keyOf("timeline", job.number),
    keyOf("resume", job.number),
  ]);
  const submit = handleSubmit(async () => {
    const params = { path: { number: job.number } };
    const body = { id: newId(), ...entry, due: entry.due || null };
    await keep(() => api.POST("/api/v1/jobs/{number}/changes", { params, body }));
  });
  return (
    <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2" data-testid="whose-move">
      <h3 className="text-lg font-bold sm:col-span-2">
        <Trans>Waiting on</Trans>
      </h3>
      <label className="block">
        <span className="block text-soft">
          <Trans>it waits for</Trans>
        </span>
        <Select className="field w-full" {...register("move")}>
          {moves.map(({ name, words }) => (
            <option key={name} value={name}>
              {words}
            </option>
          ))}
        </Select>
      </label>
      <label className="block">
        <span className="block text-soft">
          <Trans>due</Trans>
        </span>
        <input type="date" className="field w-full" {...register("due")} />
      </label>
      {entry.move !== "hands" && (
        <label className="block sm:col-span-2">
          <span className="block text-soft">
            <Trans>for what exactly</Trans>
          </span>
          <input className="field w-full" required maxLength={200} {...register("waits_for")} />
        </label>
      )}
      <label className="block">
        <span className="block text-soft">
          <Trans>shelf place</Trans>
        </span>
        <input className="field w-full font-mono" maxLength={20} {...register("place")} />
      </label>
      <label className="flex items-center gap-3 self-end pb-2">
        <input type="checkbox" className="size-6" {...register("express")} />
        <Trans>express</Trans>
      </label>
      <FormError problem={problem} />
      <p>
        <button type="submit" className="button">
          <Trans>Set it</Trans>
        </button>
      </p>
    </form>
  );
}
