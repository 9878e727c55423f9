import type { Picture } from "./client";
import { AWAY, csrfHeader, problemFrom } from "./client";

/** Sends a form with progress, which fetch cannot tell: `onSent` gets the share sent, 0 to 1. */
export function upload<T>(address: string, form: FormData, onSent: (share: number) => void): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", address);
    for (const [name, value] of Object.entries(csrfHeader())) request.setRequestHeader(name, value);
    request.responseType = "json";
    request.upload.onprogress = (event) => onSent(event.lengthComputable ? event.loaded / event.total : 0);
    request.upload.onload = () => onSent(1);
    request.onerror = () => reject(AWAY);
    request.onload = () => {
      if (request.status >= 200 && request.status < 300) resolve(request.response as T);
      else reject(problemFrom(request.status, request.response));
    };
    request.send(form);
  });
}

/** A form sent with progress, as `useKeeping` enters it. */
export async function uploadEntry<T>(address: string, form: FormData, onSent: (share: number) => void) {
  return { data: await upload<T>(address, form, onSent) };
}

/** Sends a file that is kept as it came. */
export function sendFile(
  file: File,
  onSent: (share: number) => void,
): Promise<{ sha256: string; size: number }> {
  const form = new FormData();
  form.append("file", file);
  return upload("/api/v1/evidence-files", form, onSent);
}

/** Sends a CSV of known-good observations. */
export function sendKnown(file: File): Promise<{ added: number }> {
  const form = new FormData();
  form.append("file", file);
  return upload("/api/v1/known-good", form, () => undefined);
}

/** Sends a photograph; the server keeps its pixels and nothing else. */
export function sendPicture(file: File, onSent: (share: number) => void = () => undefined): Promise<Picture> {
  const form = new FormData();
  form.append("file", file);
  return upload<Picture>("/api/v1/pictures", form, onSent);
}
