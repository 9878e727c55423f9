import type { ReactNode, Ref } from "react";

interface ChooseFileProps {
  children: ReactNode;
  take: (files: File[]) => void;
  accept?: string;
  multiple?: boolean;
  /** on a phone, straight to the camera at its back */
  capture?: boolean;
  input?: Ref<HTMLInputElement>;
  testid?: string;
  className?: string;
}

/** A button that asks for files; the same file may be chosen again. */
export function ChooseFile({
  children,
  take,
  accept,
  multiple,
  capture,
  input,
  testid,
  className,
}: ChooseFileProps) {
  return (
    <label
      className={`button relative inline-grid cursor-pointer place-items-center focus-within:outline-3 focus-within:outline-focus ${className ?? ""}`}
    >
      <span>{children}</span>
      <input
        ref={input}
        type="file"
        accept={accept}
        multiple={multiple}
        capture={capture ? "environment" : undefined}
        className="sr-only"
        data-testid={testid}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          if (files.length > 0) take(files);
        }}
      />
    </label>
  );
}

export const PHOTOGRAPHS = "image/png,image/jpeg";
