import { createContext, useContext } from "react";

/** Opens the camera of the job at hand; `before` names what is about to be lifted. */
export const CameraContext = createContext<(before?: string) => void>(() => undefined);

export function useCamera() {
  return useContext(CameraContext);
}
