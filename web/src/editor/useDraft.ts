import { useCallback, useEffect, useRef, useState } from "react";
import { api, type Draft, data } from "../api/client";
import type { BoardDocument, Edit } from "./document";

interface Kept {
  document: BoardDocument;
  base: number;
}

const MOST_UNDO = 200;

/** A draft that was left unsaved in this browser. */
export function keptDraft(key: string): Kept | null {
  const kept = localStorage.getItem(key);
  return kept ? (JSON.parse(kept) as Kept) : null;
}

export interface Drafting {
  document: BoardDocument;
  draft: Draft | null;
  base: number;
  /** what the last edit was refused for, or what it said */
  said: string;
  refused: string;
  edited: boolean;
  apply: (edit: Edit) => Promise<BoardDocument | null>;
  undo: (() => void) | undefined;
  redo: (() => void) | undefined;
  /** the document once every edit so far is made */
  settled: () => Promise<BoardDocument>;
  forget: () => void;
}

/** The document with its history: the core makes each edit and draws what comes of it; undo goes back. */
export function useDraft(key: string, first: Kept): Drafting {
  const [past, setPast] = useState<BoardDocument[]>([]);
  const [document, setDocument] = useState(first.document);
  const [future, setFuture] = useState<BoardDocument[]>([]);
  const [draft, setDraft] = useState<Draft | null>(null);
  const [said, setSaid] = useState("");
  const [refused, setRefused] = useState("");
  const latest = useRef(document);
  const queue = useRef<Promise<unknown>>(Promise.resolve());

  const show = useCallback(
    (next: BoardDocument, edit?: Edit): Promise<BoardDocument | null> => {
      const ask = async () => {
        try {
          const body = { document: edit ? latest.current : next, ...(edit ? { edit } : {}) };
          const answer = data(await api.POST("/api/v1/board-drafts", { body }));
          const before = latest.current;
          const after = answer.document as BoardDocument;
          if (edit) {
            setPast((old) => [...old.slice(-MOST_UNDO), before]);
            setFuture([]);
          }
          latest.current = after;
          setDocument(after);
          setDraft(answer);
          setSaid(answer.said);
          setRefused("");
          if (edit) localStorage.setItem(key, JSON.stringify({ document: after, base: first.base }));
          return after;
        } catch (problem) {
          setRefused((problem as Error).message);
          return null;
        }
      };
      // one after the other, each on what the one before made
      const turn = queue.current.then(ask);
      queue.current = turn;
      return turn;
    },
    [key, first.base],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn once when the page opens
  useEffect(() => {
    void show(first.document);
  }, []);

  const step = (from: BoardDocument[], put: (rest: BoardDocument[]) => void, other: typeof setPast) => {
    const next = from[from.length - 1];
    if (!next) return undefined;
    return () => {
      const now = latest.current;
      put(from.slice(0, -1));
      other((old) => [...old, now]);
      latest.current = next;
      setDocument(next);
      localStorage.setItem(key, JSON.stringify({ document: next, base: first.base }));
      void show(next);
    };
  };
  return {
    document,
    draft,
    base: first.base,
    said,
    refused,
    edited: past.length > 0 || keptDraft(key) !== null,
    apply: (edit) => show(document, edit),
    undo: step(past, setPast, setFuture),
    redo: step(future, setFuture, setPast),
    settled: () => queue.current.then(() => latest.current),
    forget: () => localStorage.removeItem(key),
  };
}
