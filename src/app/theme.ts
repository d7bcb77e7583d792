/** Looks that the maker can ask for; `system` is whatever the computer is set to. */
export const THEMES = ['system', 'light', 'dark'] as const;
export type Theme = (typeof THEMES)[number];

const KEY = 'zesty-strata-theme';

/** Puts a look on the page and keeps it for the next visit, where the browser keeps anything. */
export function setTheme(theme: Theme): void {
  if (theme === 'system') delete document.documentElement.dataset.theme;
  else document.documentElement.dataset.theme = theme;
  try {
    localStorage.setItem(KEY, theme);
  } catch {
    // Without storage the look lasts as long as the page.
  }
}

/** Puts the look of the last visit on the page. */
export function restoreTheme(): void {
  try {
    const kept = THEMES.find((theme) => theme === localStorage.getItem(KEY));
    if (kept && kept !== 'system') document.documentElement.dataset.theme = kept;
  } catch {
    // Nothing is kept here: the system's look it is.
  }
}
