import { recall, remember } from '../platform/browser/remembered.ts';

/** Looks that the maker can ask for; `system` is whatever the computer is set to. */
export const THEMES = ['system', 'light', 'dark'] as const;
export type Theme = (typeof THEMES)[number];

const KEY = 'theme';

/** Puts a look on the page and keeps it for the next visit. */
export function setTheme(theme: Theme): void {
  if (theme === 'system') delete document.documentElement.dataset.theme;
  else document.documentElement.dataset.theme = theme;
  remember(KEY, theme);
}

/** Puts the look of the last visit on the page. */
export function restoreTheme(): void {
  const kept = recall(KEY, THEMES);
  if (kept && kept !== 'system') document.documentElement.dataset.theme = kept;
}
