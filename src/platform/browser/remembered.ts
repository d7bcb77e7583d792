/**
 * One of several choices that is a matter of the maker's taste and not of a project, as it was last made in this browser.
 * @param key name of the choice
 * @param choices what can be chosen
 * @returns the last choice; undefined where there was none, it is none any more, or the browser keeps nothing
 */
export function recall<Choice extends string>(
  key: string,
  choices: readonly Choice[],
): Choice | undefined {
  try {
    const kept = localStorage.getItem(storageKey(key));
    return choices.find((choice) => choice === kept);
  } catch {
    return undefined;
  }
}

/** Keeps a choice for the next visit. Where the browser keeps nothing it lasts as long as the page. */
export function remember(key: string, choice: string): void {
  try {
    localStorage.setItem(storageKey(key), choice);
  } catch {
    // Nothing of the project is in it.
  }
}

const storageKey = (key: string): string => `zesty-strata-${key}`;
