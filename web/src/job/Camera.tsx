import { Select } from "@headlessui/react";
import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, data, newId } from "../api/client";
import { sendPicture } from "../api/upload";
import { ChooseFile, PHOTOGRAPHS } from "../shared/ChooseFile";
import { useKeys } from "../shared/keys";
import { afterPhotograph } from "./afterAct";

interface CameraProps {
  number: number;
  /** what is about to be lifted, where that is why */
  before: string | undefined;
  close: () => void;
}

type Side = "front" | "back" | "";

/** The camera of this computer in the panel: Enter takes a photograph of the job's card, the drawing stays. */
export function Camera({ number, before, close }: CameraProps) {
  const video = useRef<HTMLVideoElement>(null);
  const [live, setLive] = useState(false);
  const [asked, setAsked] = useState(t`Asking for the camera …`);
  const [said, setSaid] = useState("");
  const [side, setSide] = useState<Side>(before ? "" : "front");
  const queries = useQueryClient();
  useEffect(() => {
    let stream: MediaStream | null = null;
    let gone = false;
    const start = async () => {
      try {
        if (!navigator.mediaDevices) throw new Error(t`no camera`);
        stream = await navigator.mediaDevices.getUserMedia({
          video: { width: { ideal: 3840 }, facingMode: "environment" },
        });
        if (gone) return stop(stream);
        if (video.current) video.current.srcObject = stream;
        setAsked("");
      } catch {
        setAsked(t`This computer shows no camera. Choose a file, or let a phone join at Look.`);
      }
    };
    void start();
    return () => {
      gone = true;
      if (stream) stop(stream);
    };
  }, []);
  const send = async (file: File) => {
    try {
      const picture = await sendPicture(file, (share) => setSaid(t`Sending, ${Math.round(share * 100)} %`));
      const body = { id: newId(), sha256: picture.sha256, side, ...(before ? { before } : {}) };
      data(await api.POST("/api/v1/jobs/{number}/photographs", { params: { path: { number } }, body }));
      setSaid(t`Kept with the job.`);
      await afterPhotograph(queries, number);
    } catch (error) {
      setSaid((error as Error).message);
    }
  };
  const take = () => {
    const from = video.current;
    if (!from || !live || from.videoWidth === 0) return;
    const canvas = document.createElement("canvas");
    canvas.width = from.videoWidth;
    canvas.height = from.videoHeight;
    canvas.getContext("2d")?.drawImage(from, 0, 0);
    canvas.toBlob((blob) => blob && void send(new File([blob], "camera.jpg")), "image/jpeg", 0.92);
  };
  useKeys({ Escape: close, Enter: take });
  return (
    <section
      aria-label={t`Camera`}
      className="rounded-md border-2 border-ink bg-tray p-3"
      data-testid="camera"
    >
      <h2 className="text-xl font-bold">{before ? t`Before it is lifted: ${before}` : t`Photograph`}</h2>
      <video
        ref={video}
        autoPlay
        muted
        playsInline
        onLoadedData={() => setLive(true)}
        className={`mt-2 w-full rounded ${live ? "" : "hidden"}`}
      />
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Select
          className="field"
          aria-label={t`What the camera shows`}
          value={side}
          onChange={(event) => setSide(event.target.value as Side)}
        >
          <option value="front">{t`the front`}</option>
          <option value="back">{t`the back`}</option>
          <option value="">{t`a detail`}</option>
        </Select>
        {live && (
          <button type="button" className="button" onClick={take}>
            <Trans>
              Take it <kbd className="key">Enter</kbd>
            </Trans>
          </button>
        )}
        <ChooseFile
          take={(files) => files[0] && void send(files[0])}
          accept={PHOTOGRAPHS}
          testid="camera-file"
        >
          <Trans>Choose a file</Trans>
        </ChooseFile>
        <button type="button" className="button" onClick={close}>
          <Trans>
            Close <kbd className="key">Esc</kbd>
          </Trans>
        </button>
      </div>
      {(said || asked) && (
        <p role="status" className="mt-2">
          {said || asked}
        </p>
      )}
    </section>
  );
}

function stop(stream: MediaStream) {
  for (const track of stream.getTracks()) track.stop();
}
