import { t } from "@lingui/core/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { newId, Problem } from "../api/client";
import type { components } from "../api/schema";
import { upload } from "../api/upload";
import { proofQuery } from "../queries/job";

export type Proof = components["schemas"]["CardProof"];
export type Check = components["schemas"]["Check"];
export type ProofLog = components["schemas"]["ProofLog"];

/** How far a card is proven. */
export function useProof(number: number) {
  return useQuery(proofQuery(number));
}

export interface Unknown {
  file: File;
  headers: string[];
  guess: Record<string, string>;
}

/** Sending logs; one whose columns nobody knows yet is held until they are said. */
export function useLogs(number: number) {
  const queries = useQueryClient();
  const [sending, setSending] = useState("");
  const [problem, setProblem] = useState<Problem | null>(null);
  const [unknown, setUnknown] = useState<Unknown | null>(null);
  const send = async (file: File, phase: "before" | "after", load: string) => {
    setProblem(null);
    const form = new FormData();
    form.append("entry", newId());
    form.append("phase", phase);
    form.append("load", load);
    form.append("file", file);
    try {
      const answer = await upload<Proof>(`/api/v1/jobs/${number}/proof/logs`, form, (share) =>
        setSending(t`Sending ${file.name}, ${Math.round(share * 100)} %`),
      );
      queries.setQueryData(proofQuery(number).queryKey, answer);
      setUnknown(null);
    } catch (error) {
      if (error instanceof Problem && error.code === "columns")
        setUnknown({
          file,
          headers: error.facts.headers as string[],
          guess: error.facts.guess as Record<string, string>,
        });
      else setProblem(error as Problem);
    } finally {
      setSending("");
    }
  };
  return { send, sending, problem, unknown, forget: () => setUnknown(null) };
}
