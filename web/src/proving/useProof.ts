import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { newId } from "../api/client";
import type { components } from "../api/schema";
import { uploadEntry } from "../api/upload";
import { proofQuery } from "../queries/job";
import { keyOf } from "../queries/keys";
import { useKeeping } from "../shared/keeping";

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
  const [sending, setSending] = useState("");
  const { problem, keep } = useKeeping([keyOf("job", String(number))]);
  const [unknown, setUnknown] = useState<Unknown | null>(null);
  const send = async (file: File, phase: "before" | "after", load: string) => {
    const form = new FormData();
    form.append("entry", newId());
    form.append("phase", phase);
    form.append("load", load);
    form.append("file", file);
    const answer = await keep(
      () =>
        uploadEntry<Proof>(`/api/v1/jobs/${number}/proof/logs`, form, (share) =>
          setSending(t`Sending ${file.name}, ${Math.round(share * 100)} %`),
        ),
      proofQuery(number).queryKey,
      ({ code, facts }) => {
        if (code !== "columns") return false;
        const { headers, guess } = facts as unknown as Omit<Unknown, "file">;
        setUnknown({ file, headers, guess });
        return true;
      },
    );
    if (answer) setUnknown(null);
    setSending("");
  };
  return { send, sending, problem, unknown, forget: () => setUnknown(null) };
}
