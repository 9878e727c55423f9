import { t } from "@lingui/core/macro";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { type JobDetail, newId, type Problem, type Run } from "../api/client";
import { upload } from "../api/upload";
import { afterAct } from "../job/afterAct";
import { keyOf } from "../queries/keys";
import { useFilesFromAnywhere } from "../shared/files";
import { count } from "../shared/words";

/** A report on its way in; `code` and `said` are the server's where it asks or refuses. */
export interface Dropped {
  id: string;
  file: File;
  condition: string;
  another: boolean;
  boardConfirmed: boolean;
  partly: boolean;
  state: "waiting" | "sending" | "asked" | "done";
  sent: number;
  code: string;
  said: string;
}

/** Reports dropped or pasted anywhere on the page, sent one after another in order. */
export function useDroppedReports(job: JobDetail, condition: string) {
  const [dropped, setDropped] = useState<Dropped[]>([]);
  const queries = useQueryClient();
  const change = useCallback(
    (id: string, part: Partial<Dropped>) =>
      setDropped((all) => all.map((entry) => (entry.id === id ? { ...entry, ...part } : entry))),
    [],
  );
  const latest = useRef(condition);
  latest.current = condition;
  const take = useCallback((files: File[]) => {
    const fresh = files.map((file) => ({
      id: newId(),
      file,
      condition: latest.current,
      another: false,
      boardConfirmed: false,
      partly: false,
      state: "waiting" as const,
      sent: 0,
      code: "",
      said: "",
    }));
    setDropped((all) => [...all.filter((entry) => entry.state !== "done"), ...fresh]);
  }, []);

  const next = dropped.some((entry) => entry.state === "sending")
    ? undefined
    : dropped.find((entry) => entry.state === "waiting");
  const address = `/api/v1/jobs/${job.number}/runs`;
  useEffect(() => {
    if (!next) return;
    change(next.id, { state: "sending", sent: 0 });
    upload<Run>(address, formOf(next), (sent) => change(next.id, { sent }))
      .then(async (run) => {
        change(next.id, { state: "done", said: readWords(run) });
        afterAct(queries, job.number);
        await queries.invalidateQueries({ queryKey: keyOf("shelf") });
      })
      .catch((problem: Problem) =>
        change(next.id, { state: "asked", code: problem.code, said: problem.message }),
      );
  }, [next, address, change, queries, job.number]);

  const over = useFilesFromAnywhere(take, (text) =>
    take([new File([text], text.trimStart().startsWith("{") ? "pasted.jsonl" : "pasted.csv")]),
  );

  const answer = (id: string, reply: Partial<Dropped>) => change(id, { ...reply, state: "waiting" });
  const dismiss = (id: string) => setDropped((all) => all.filter((entry) => entry.id !== id));
  return { dropped, take, answer, dismiss, over };
}

function formOf(one: Dropped): FormData {
  const form = new FormData();
  form.append("id", one.id);
  form.append("condition", one.condition);
  form.append("another", String(one.another));
  form.append("board_confirmed", String(one.boardConfirmed));
  form.append("partly", String(one.partly));
  form.append("file", one.file);
  return form;
}

function readWords(run: Run): string {
  const report = run.located.reports[0];
  const unread = report?.unread ? t`, ${count(report.unread)} unread` : "";
  const own = ["full", "tally", "lines"].includes(report?.format ?? "");
  const by = own ? "" : t` by the reader ${report?.format ?? ""}`;
  return t`run ${run.number}${by}, ${count(report?.rows ?? 0)} rows, ${count(report?.errors ?? 0)} errors${unread}.`;
}
