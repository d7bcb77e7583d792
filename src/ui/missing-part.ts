/** What browsers, and the loader of styles, say of a part of the app that did not come. */
const SAID =
  /dynamically imported module|importing a module script|preload CSS|script could not be loaded/i;

/** Does a message say that a script or a style did not come: the server is gone, or has a newer version without it? */
export function isMissingPart(message: string): boolean {
  return SAID.test(message);
}

/** The same for makers; any other message stays what it is. */
export function withoutRawParts(message: string): string {
  return isMissingPart(message)
    ? 'A part of the app that this needs could not be loaded: the app is not running any more, or was updated. Your work is kept. Start the app again, then try once more.'
    : message;
}
