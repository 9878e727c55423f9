import { useEffect, useRef, useState } from "react";

/** Files dropped or pasted anywhere on the page (text too, where it is wanted); says whether files hang over it. */
export function useFilesFromAnywhere(
  take: (files: File[]) => void,
  takeText?: (text: string) => void,
): boolean {
  const [over, setOver] = useState(false);
  const latest = useRef({ take, takeText });
  latest.current = { take, takeText };
  useEffect(() => {
    const files = (event: DragEvent) =>
      !!event.dataTransfer && [...event.dataTransfer.types].includes("Files");
    const drag = (event: DragEvent) => {
      if (!files(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (event.relatedTarget === null) setOver(false);
    };
    const drop = (event: DragEvent) => {
      if (!files(event)) return;
      event.preventDefault();
      setOver(false);
      latest.current.take([...(event.dataTransfer?.files ?? [])]);
    };
    const paste = (event: ClipboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.matches("input, textarea")) return;
      const pasted = [...(event.clipboardData?.files ?? [])];
      const text = event.clipboardData?.getData("text/plain") ?? "";
      if (pasted.length > 0) latest.current.take(pasted);
      else if (text.trim()) latest.current.takeText?.(text);
    };
    window.addEventListener("dragover", drag);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", drop);
    window.addEventListener("paste", paste);
    return () => {
      window.removeEventListener("dragover", drag);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", drop);
      window.removeEventListener("paste", paste);
    };
  }, []);
  return over;
}
