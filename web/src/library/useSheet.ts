import { t } from "@lingui/core/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Problem } from "../api/client";

interface Head {
  edition: number;
}

interface SheetOf<Saved extends Head, Row> {
  key: readonly unknown[];
  get: () => Promise<Saved>;
  rowsOf: (saved: Saved) => Row[];
  /** saves the rows as the edition after `edition`; refused where somebody saved another meanwhile */
  put: (rows: Row[], edition: number) => Promise<Saved>;
}

/** A model's sheet being edited: what is typed stays until it is saved, and belongs to the edition it was begun from. */
export function useSheet<Saved extends Head, Row>({ key, get, rowsOf, put }: SheetOf<Saved, Row>) {
  const queries = useQueryClient();
  const sheet = useQuery({ queryKey: key, queryFn: get });
  const [mine, setMine] = useState<{ rows: Row[]; edition: number } | null>(null);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const rows = mine?.rows ?? (sheet.data ? rowsOf(sheet.data) : []);
  const edit = (next: Row[]) => setMine({ rows: next, edition: mine?.edition ?? sheet.data?.edition ?? 0 });
  const discard = async () => {
    setProblem("");
    setMine(null);
    await queries.invalidateQueries({ queryKey: key });
  };
  const save = async () => {
    if (!mine) return;
    setBusy(true);
    setProblem("");
    try {
      queries.setQueryData(key, await put(mine.rows, mine.edition));
      setMine(null);
    } catch (error) {
      setProblem(t`${(error as Problem).message} What you typed is kept here.`);
    }
    setBusy(false);
  };
  return { sheet, rows, touched: mine !== null, edit, discard, problem, busy, save };
}
