const KEPT = "uvrix-theme";

/** The theme last chosen on this machine: light, or dim for microscope light. */
export function startTheme() {
  document.documentElement.dataset.theme = localStorage.getItem(KEPT) ?? "light";
}

export function isDim(): boolean {
  return document.documentElement.dataset.theme === "dim";
}

export function switchTheme() {
  const chosen = isDim() ? "light" : "dim";
  localStorage.setItem(KEPT, chosen);
  document.documentElement.dataset.theme = chosen;
}
