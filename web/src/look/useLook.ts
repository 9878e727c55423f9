import { t } from "@lingui/core/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, type Look, newId, type Overlay } from "../api/client";
import { sendPicture } from "../api/upload";
import { afterAct, afterPhotograph } from "../job/afterAct";
import { lookQuery, owedQuery } from "../queries/job";
import { NOTHING_ELSE, useKeeping } from "../shared/keeping";

const CONTACT = /^[AB]\d{1,2}$/;

export interface Spot {
  side: "front" | "back";
  x_mm?: number;
  y_mm?: number;
  picture?: string;
  x_px?: number;
  y_px?: number;
}

/** What was seen of a job, and entering more; what went wrong is said in `problem`, and nothing entered is lost. */
export function useLook(number: number) {
  const queries = useQueryClient();
  const [unsent, setUnsent] = useState("");
  const [sending, setSending] = useState<string>("");
  const key = lookQuery(number).queryKey;
  const look = useQuery(lookQuery(number));
  const keeping = useKeeping([], () => afterAct(queries, number));
  const keep = async (ask: () => Promise<{ data?: Look }>) => (await keeping.keep(ask, key)) !== null;
  const path = { number };
  const region = (id: string, clear: boolean) =>
    keep(() =>
      api.POST("/api/v1/jobs/{number}/look/regions", {
        params: { path },
        body: { id: newId(), region: id, clear },
      }),
    );
  const enter = (kind: string, spot: Spot, note: string, shown: string[] = []) =>
    keep(() =>
      api.POST("/api/v1/jobs/{number}/look/findings", {
        params: { path },
        body: { id: newId(), kind, note, photographs: shown, ...spot },
      }),
    );
  /** What was seen at a part that is named, a slot contact among them. */
  const seenAt = (kind: string, part: string) =>
    keep(() =>
      api.POST("/api/v1/jobs/{number}/look/findings", {
        params: { path },
        body: { id: newId(), kind, side: "front", ...(CONTACT.test(part) ? { contact: part } : { part }) },
      }),
    );
  /** Promises something at a place: a part left off there, a wire to take off again. */
  const promise = async (words: string, spot: Spot) => {
    const body = { id: newId(), kind: "other" as const, words, ...spot };
    const owed = await keeping.keep(
      () => api.POST("/api/v1/jobs/{number}/owed", { params: { path }, body }),
      owedQuery(number).queryKey,
      undefined,
      NOTHING_ELSE,
    );
    return owed !== null;
  };
  const withdraw = (finding: string) =>
    keep(() => api.POST("/api/v1/look-findings/{finding}/withdrawal", { params: { path: { finding } } }));
  /** Sends photographs one after the other and gives the ids of those that are kept. */
  const photographs = async (files: File[], side: "front" | "back" | "", before = "") => {
    setUnsent("");
    const kept: string[] = [];
    for (const [at, file] of files.entries()) {
      try {
        const picture = await sendPicture(file, (share) =>
          setSending(t`Sending ${at + 1} of ${files.length}, ${Math.round(share * 100)} %`),
        );
        const body = { id: newId(), sha256: picture.sha256, side, before };
        data(await api.POST("/api/v1/jobs/{number}/photographs", { params: { path }, body }));
        kept.push(body.id);
      } catch (error) {
        setUnsent(`${file.name}: ${(error as Error).message}`);
      }
    }
    setSending("");
    // sending takes its time: any page of the job may be open by now
    await afterPhotograph(queries, number);
    return kept;
  };
  const straighten = (photograph: string, corners: number[][]) =>
    keep(() =>
      api.POST("/api/v1/photographs/{photograph}/straightened", {
        params: { path: { photograph } },
        body: { id: newId(), corners },
      }),
    );
  const overlay = async (
    photograph: string,
    reference: number[][],
    other: number[][],
  ): Promise<Overlay | null> => {
    const body = { reference, photograph: other };
    const found = await keeping.keep(
      () => api.POST("/api/v1/photographs/{photograph}/overlay", { params: { path: { photograph } }, body }),
      undefined,
      undefined,
      NOTHING_ELSE,
    );
    if (found === null || found === "kept") return null;
    await queries.invalidateQueries({ queryKey: key });
    return found;
  };
  const problem = keeping.said || unsent;
  const { busy } = keeping;
  return {
    look,
    problem,
    busy,
    sending,
    region,
    enter,
    seenAt,
    promise,
    withdraw,
    photographs,
    straighten,
    overlay,
  };
}
