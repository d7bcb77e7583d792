/** Limits of what can be asked of a tag; lengths in mm. */
export const TAG_LIMITS = {
  sideMm: [0.3, 400],
  placeMm: [-400, 400],
  turnDeg: [-360, 360],
  heightMm: [0.5, 200],
  /** Thousandths of an em. */
  tracking: [-200, 1000],
  lineSpacing: [0.5, 4],
  /** Radius of an arc; negative below. */
  arcMm: [-1000, 1000],
  widthMm: [0.05, 100],
  holeMm: [0.5, 200],
  /** Radius of corners. */
  cornerMm: [0, 200],
  /** How far a rim lies within the outline. */
  insetMm: [0, 100],
  /** Width that lettering is set smaller for. */
  fitMm: [0, 400],
} as const;

/** Layers of a plate: there is room above it for what is raised. */
export const MOST_PLATE_LAYERS = 200;

/** Layers that inlays of a flush face are thick at most: more would take filament that nobody sees. */
export const MOST_FLUSH_LAYERS = 20;

/** Fonts of the maker's own in one tag. */
export const MOST_FONTS = 12;

/** Columns of a list of names. */
export const MOST_COLUMNS = 20;

/** Elements on one tag, and letters in one of them. */
export const MOST_ELEMENTS = 200;
export const LONGEST_LETTERING = 400;

/** Pieces of a series. */
export const MOST_NAMES = 500;
