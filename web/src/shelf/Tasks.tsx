import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { tasksQuery } from "../queries/shop";
import { jobLabel } from "../shared/words";

/** What other hands can do, on any job. */
export function Tasks() {
  const queries = useQueryClient();
  const tasks = useQuery(tasksQuery());
  if (!tasks.data || tasks.data.length === 0) return null;
  const move = async (task: string, taken: boolean) => {
    const path = { task };
    const found = taken
      ? await api.POST("/api/v1/tasks/{task}/done", { params: { path } })
      : await api.POST("/api/v1/tasks/{task}/taken", { params: { path } });
    queries.setQueryData(tasksQuery().queryKey, data(found));
  };
  return (
    <section aria-labelledby="tasks-title" className="mb-4">
      <h2 id="tasks-title" className="mb-1 text-lg font-bold">
        <Trans>Tasks for others</Trans>
      </h2>
      <ul className="border-t border-rule" aria-label={t`Tasks`}>
        {tasks.data.map((task) => (
          <li key={task.id} className="flex items-center gap-4 border-b border-rule bg-sheet px-4 py-0.5">
            <Link className="button-plain font-mono" to={`/jobs/${task.job}`}>
              {jobLabel(task.job)}
            </Link>
            <strong className="flex-1">{task.words}</strong>
            <span className="text-soft">
              {task.taken_by ? t`taken by ${task.taken_by}` : t`asked by ${task.by}`}
            </span>
            <button
              type="button"
              className="button"
              onClick={() => void move(task.id, task.taken_by !== null)}
            >
              {task.taken_by ? t`Done` : t`I take it`}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
