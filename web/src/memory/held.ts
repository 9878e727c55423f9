/** A report that no reader knew, held while one is taught from it; it is sent when its job is open again. */
let held: { file: File; job: number } | null = null;

export function holdReport(file: File, job: number) {
  held = { file, job };
}

export function takeHeldReport(job: number): File | null {
  if (held?.job !== job) return null;
  const { file } = held;
  held = null;
  return file;
}
