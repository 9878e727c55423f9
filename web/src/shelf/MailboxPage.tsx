import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data } from "../api/client";
import { mailboxQuery, remindersQuery } from "../queries/shop";
import { asKept } from "../returning/letters";
import { LoadError, Loading } from "../shared/states";
import { day, moment } from "../shared/words";
import { useSession } from "../signin/session";
import { Customers } from "./Customers";
import { Templates } from "./Templates";
import { useReminders } from "./useReminders";

/** Whom to write to, and everything that was written to customers. */
export function MailboxPage() {
  const queries = useQueryClient();
  const session = useSession();
  const reminders = useReminders();
  const mailbox = useQuery(mailboxQuery());
  if (mailbox.isError) return <LoadError problem={mailbox.error} again={() => mailbox.refetch()} />;
  if (!mailbox.data || !reminders.data) return <Loading what={t`Reading the mailbox`} />;
  const done = async (follow: string) => {
    const params = { path: { follow } };
    queries.setQueryData(
      remindersQuery().queryKey,
      data(await api.POST("/api/v1/follow-ups/{follow}/done", { params })),
    );
  };
  return (
    <main className="max-w-4xl space-y-6 p-6">
      <h1 className="font-bold text-3xl">
        <Trans>Messages</Trans>
      </h1>
      <section aria-labelledby="due-title">
        <h2 id="due-title" className="font-bold text-xl">
          <Trans>Messages to send</Trans>
        </h2>
        <ul>
          {reminders.data.map((reminder) => (
            <li key={reminder.key} className="flex flex-wrap items-center gap-3 border-rule border-t py-2">
              <span className="min-w-0 flex-1">
                <strong>{reminder.customer}</strong>, {reminder.card}: {reminder.words}{" "}
                <span className="text-soft">
                  <Trans>
                    {reminder.job_label}, since {day(reminder.due)}
                  </Trans>
                </span>
              </span>
              <Link className="button grid place-items-center" to={`/jobs/${reminder.job}/return/customer`}>
                <Trans>Write</Trans>
              </Link>
              {reminder.kind === "follow-up" && (
                <button type="button" className="button" onClick={() => void done(reminder.key)}>
                  <Trans>Done</Trans>
                </button>
              )}
            </li>
          ))}
          {reminders.data.length === 0 && (
            <li className="text-soft">
              <Trans>Nobody: every answer is in, and no follow-up is due.</Trans>
            </li>
          )}
        </ul>
      </section>
      <Customers mayChange={session.data?.person?.role === "lead"} />
      <section aria-labelledby="sent-title">
        <h2 id="sent-title" className="font-bold text-xl">
          <Trans>Sent</Trans>
        </h2>
        <ol>
          {mailbox.data.map((entry) => (
            <li key={entry.id} className="border-rule border-t py-2">
              <details>
                <summary className="cursor-pointer">
                  <strong>{entry.subject}</strong>{" "}
                  <span className="text-soft">
                    <Trans>
                      to {entry.to}, {entry.by}, {moment(entry.at)}
                    </Trans>
                  </span>
                </summary>
                <p className="whitespace-pre-wrap pl-4">{asKept(entry.text)}</p>
                <Link className="button-plain" to={`/jobs/${entry.job}/return/customer`}>
                  {entry.job_label}
                </Link>
              </details>
            </li>
          ))}
          {mailbox.data.length === 0 && (
            <li className="text-soft">
              <Trans>Nothing was sent yet. Messages are written at a job’s Return.</Trans>
            </li>
          )}
        </ol>
      </section>
      {session.data?.person?.role === "lead" && <Templates />}
    </main>
  );
}
