/** Light by day, dim in the evening; the choice stays with this device. */
export type Theme = "light" | "dim";

export const savedTheme = (): Theme =>
  window.localStorage.getItem("theme") === "dim" ? "dim" : "light";

export function applyTheme(theme: Theme): void {
  document.documentElement.dataset.theme = theme;
  window.localStorage.setItem("theme", theme);
}
