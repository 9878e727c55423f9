import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { JobDetail, Person } from "../api/client";
import { sessionQuery } from "../queries/shop";

const SESSION = ["session"];
const BENCH_ROLES: readonly string[] = ["technician", "lead"];

export function useSession() {
  return useQuery(sessionQuery());
}

/** Forget everything that was read for the former person, and look again who is signed in. */
export function useNewSession() {
  const queries = useQueryClient();
  return async () => {
    queries.removeQueries({ predicate: (query) => query.queryKey[0] !== SESSION[0] });
    await queries.refetchQueries({ queryKey: SESSION });
  };
}

/** Whether this person enters runs and marks; the front desk reads them. */
export function mayWorkAtBench(person: Person | null | undefined): boolean {
  return !!person && BENCH_ROLES.includes(person.role);
}

/** Whether who is signed in enters what is measured on the job's card or done to it: nobody does once it left. */
export function useMayWork(job: Pick<JobDetail, "left">): boolean {
  const session = useSession();
  return mayWorkAtBench(session.data?.person) && job.left === null;
}
