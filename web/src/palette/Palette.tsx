import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogPanel,
  DialogTitle,
} from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useEffect, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api, type BoardDetail, data, type JobDetail, type Person } from "../api/client";
import { keyOf } from "../queries/keys";
import { actOf } from "../shared/keys";
import { lifeAt } from "../stock/useStock";
import { acts, fitting, ofJob, type PaletteEntry, screens } from "./entries";

const SHORTEST = 2;

/** Ctrl K: go to any job, part, point or screen, or do what a key does, by typing. */
export function Palette({ person }: { person: Person | null }) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey || event.key.toLowerCase() !== "k") return;
      event.preventDefault();
      setOpen((shown) => !shown);
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
  return open && <Chooser person={person} close={() => setOpen(false)} />;
}

function Chooser({ person, close }: { person: Person | null; close: () => void }) {
  const [text, setText] = useState("");
  const navigate = useNavigate();
  const here = useJobHere();
  const found = useFound(useDeferredValue(text.trim()));
  const entries = [
    ...acts(),
    ...(here ? ofJob(here.job, here.model) : []),
    ...screens(person),
    ...(found.data?.models ?? []),
  ];
  const shown: PaletteEntry[] = [...fitting(entries, text), ...(found.data?.hits ?? [])];
  const go = (entry: PaletteEntry | null) => {
    if (!entry) return;
    close();
    if (entry.to) void navigate(entry.to);
    // once the dialog has given the focus back
    else if (entry.key) window.setTimeout(actOf, 0, entry.key);
  };
  return (
    <Dialog open onClose={close} className="relative z-30 focus:outline-none">
      <div className="fixed inset-0 bg-ink/30 p-6 pt-[12vh]">
        <DialogPanel className="mx-auto w-full max-w-2xl rounded-lg border border-edge bg-sheet p-4">
          <DialogTitle className="sr-only">
            <Trans>Go to, or do</Trans>
          </DialogTitle>
          <Combobox<PaletteEntry> immediate onChange={go}>
            <ComboboxInput
              autoFocus
              aria-label={t`Go to a job, part, point or screen, or do something`}
              placeholder={t`A job, serial, part, point, screen, or what to do`}
              className="field w-full text-lg"
              value={text}
              onChange={(event) => setText(event.target.value)}
              onKeyDown={(event) => event.key === "Escape" && close()}
            />
            <ComboboxOptions static className="mt-2 max-h-[55vh] overflow-y-auto" modal={false}>
              {shown.map((entry) => (
                <ComboboxOption
                  key={entry.id}
                  value={entry}
                  className="flex min-h-11 cursor-pointer items-center gap-3 rounded px-3 data-focus:bg-tray data-focus:shadow-[inset_4px_0_0_var(--color-ink)]"
                >
                  <span className="min-w-0 flex-1 truncate">{entry.name}</span>
                  <span className="text-[15px] text-soft">{entry.kind}</span>
                  {entry.key && <kbd className="key">{entry.key}</kbd>}
                </ComboboxOption>
              ))}
            </ComboboxOptions>
          </Combobox>
          {text && shown.length === 0 && !found.isFetching && (
            <p className="p-3" role="status">
              <Trans>Nothing fits “{text}”.</Trans>
            </p>
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** The job whose page is open, with its board. */
function useJobHere(): { job: JobDetail; model: BoardDetail | undefined } | null {
  const number = useLocation().pathname.match(/^\/jobs\/(\d+)/)?.[1] ?? "";
  const job = useQuery<JobDetail>({ queryKey: keyOf("job", number), enabled: false });
  const model = useQuery<BoardDetail>({
    queryKey: keyOf("board-model", job.data?.board_model ?? ""),
    enabled: false,
  });
  return job.data ? { job: job.data, model: model.data } : null;
}

/** Jobs and parts of the shop that a text may mean, and the board models. */
function useFound(text: string) {
  return useQuery({
    queryKey: keyOf("palette", text),
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const models = data(await api.GET("/api/v1/board-models")).map((model) => ({
        id: `/library/${model.slug}`,
        name: model.name + (model.revision ? t`, revision ${model.revision}` : ""),
        kind: "board model",
        to: `/library/${model.slug}`,
      }));
      if (text.length < SHORTEST) return { models, hits: [] };
      const [jobs, parts] = await Promise.all([
        api.GET("/api/v1/jobs", { params: { query: { search: text } } }),
        api.GET("/api/v1/stock/sought", { params: { query: { text } } }),
      ]);
      const hits = [
        ...data(jobs)
          .slice(0, 6)
          .map((job) => ({
            id: job.label,
            name: `${job.label} ${job.model}, ${job.serial}, ${job.customer}`,
            kind: "job",
            to: `/jobs/${job.number}`,
          })),
        ...data(parts)
          .slice(0, 4)
          .map((part) => ({
            id: part.label,
            name: `${part.label} ${part.words}`,
            kind: "part",
            to: lifeAt(part.label),
          })),
      ];
      return { models, hits };
    },
  });
}
