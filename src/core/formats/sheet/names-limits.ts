/** Most pieces of a series. */
export const MOST_NAMES = 500;
