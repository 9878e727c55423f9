import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useKeeping } from "../shared/keeping";

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
  const { problem, busy, keep, forget } = useKeeping([], () => setMine(null));
  const rows = mine?.rows ?? (sheet.data ? rowsOf(sheet.data) : []);
  const edit = (next: Row[]) => setMine({ rows: next, edition: mine?.edition ?? sheet.data?.edition ?? 0 });
  const discard = async () => {
    forget();
    setMine(null);
    await queries.invalidateQueries({ queryKey: key });
  };
  const save = async () => {
    if (!mine) return;
    await keep(async () => ({ data: await put(mine.rows, mine.edition) }), key);
  };
  return { sheet, rows, touched: mine !== null, edit, discard, problem, busy, save };
}
