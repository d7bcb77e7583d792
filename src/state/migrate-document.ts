import type { ArtworkEdit } from '#core/edit/artwork-edit.ts';
import { frameOfEdits } from '#core/edit/frame.ts';
import { keepData } from './kept-data.ts';
import { documentSchema, type ProjectDocument } from './project-document.ts';

/** Reads a document of this or an older schema version; throws a ZodError when it is neither. */
export function migrateDocument(data: unknown): ProjectDocument {
  let present = data;
  if (isVersion(present, 1)) present = fromVersion1(present);
  if (isVersion(present, 2)) present = fromVersion2(present);
  if (isVersion(present, 3)) present = fromVersion3(present);
  if (isVersion(present, 4)) present = fromVersion4(present);
  if (isVersion(present, 5)) present = fromVersion5(present);
  if (isVersion(present, 6)) present = fromVersion6(present);
  if (isVersion(present, 7)) present = fromVersion7(present);
  if (isVersion(present, 8)) present = fromVersion8(present);
  if (isVersion(present, 9)) present = fromVersion9(present);
  if (isVersion(present, 10)) present = fromVersion10(present);
  if (isVersion(present, 11)) present = fromVersion11(present);
  if (isVersion(present, 12)) present = fromVersion12(present);
  if (isVersion(present, 13)) present = fromVersion13(present);
  return documentSchema.parse(present);
}

function isVersion(data: unknown, version: number): data is object {
  return typeof data === 'object' && data !== null && 'schema' in data && data.schema === version;
}

/** Version 1 did not say how a transmission became known: all were taken from labels. */
function fromVersion1(data: object): object {
  const filaments = 'filaments' in data ? Object.entries(data.filaments ?? {}) : [];
  return {
    ...data,
    schema: 2,
    filaments: Object.fromEntries(
      filaments.map(([id, filament]) => [id, { found: 'label', ...filament }]),
    ),
  };
}

/** Version 2 knew one rule, and neither calm nor islands: heights must stay as they were. */
function fromVersion2(data: object): object {
  return {
    ...data,
    schema: 3,
    heightRule: 'tone',
    closest: { bandIds: null, aims: [] },
    flat: { colours: [] },
    calm: 0,
    smallestMm: 0,
  };
}

/** Version 3 could not hold the height of the stack. */
function fromVersion3(data: object): object {
  return { ...data, schema: 4, holdTotal: false };
}

/*
 * What older versions had not is written out here as it was when the step was made, never taken from today's code: a project
 * must open the same whatever a new one begins with.
 */

function fromVersion4(data: object): object {
  return {
    ...data,
    importance: [],
    heightMm: null,
    trim: false,
    shape: { border: null, plate: null, cornerMm: 0, holes: [] },
    opening: null,
    lineMm: 0.42,
    schema: 5,
  };
}

function fromVersion5(data: object): object {
  return {
    ...data,
    outlines: 'samples',
    printer: {
      id: 'medium-hand',
      name: 'Medium bed, by hand',
      bed: { shape: 'rectangle', widthMm: 220, depthMm: 220 },
      heightMm: 250,
      nozzleMm: 0.4,
      lineMm: 0.42,
      firstLayerMm: 0.16,
      layerMm: 0.08,
      firstLayerMmS: 30,
      solidMmS: 80,
      outlineMmS: 60,
      travelMmS: 150,
      feeder: false,
      swapS: 180,
      purgeToDarkMm: 60,
      purgeToLightMm: 150,
      filamentMm: 1.75,
      pause: { command: 'M600', text: '' },
    },
    pieces: { copies: 1, spacingMm: 5, way: 'together' },
    sheet: { startsAt: null, slicedMinutes: null, slicedGrams: null, spliceMarginMm: 300 },
    schema: 6,
  };
}

/** Version 6 had everything side by side, and what was painted in the document itself. */
function fromVersion6(data: object): object {
  const { artwork, grid, bands, holdTotal, filaments, ...rest } = data as Record<string, unknown>;
  const { heightRule, rule, closest, flat, calm, smallestMm, leastLayers, importance, ...more } =
    rest;
  const { widthMm, heightMm, trim, shape, opening, outlines, detailMm, ...print } = more;
  const { name, printer, lineMm, pieces, sheet } = print;
  return {
    schema: 7,
    name,
    artwork: {
      file: artwork,
      masks: { importance: Array.isArray(importance) ? importance.map(strokeFrom6) : importance },
    },
    stack: { grid, bands, holdTotal, filaments },
    heights: { rule: heightRule, tone: rule, closest, flat, calm, smallestMm, leastLayers },
    piece: { widthMm, heightMm, trim, shape, fit: opening, outlines, sampleMm: detailMm },
    print: { printer, lineMm, pieces, ...(sheet as object) },
  };
}

/** Version 7 could not edit the picture. */
function fromVersion7(data: object): object {
  const { artwork } = data as { artwork?: unknown };
  return {
    ...data,
    schema: 8,
    artwork: { ...(artwork as object), edits: [], selections: [], editedBox: null },
  };
}

/** Version 8 had strokes of importance move with a picture that was cut or turned under them, and heights that lean to nothing. */
function fromVersion8(data: object): object {
  const { artwork, heights } = data as { artwork?: ArtworkOf8; heights?: { closest?: object } };
  const { file, edits, masks } = artwork ?? {};
  if (!file || !Array.isArray(edits) || !Array.isArray(masks?.importance))
    return { ...data, schema: 9 };
  // Shapes are checked when all steps are made; what is no edit of the frame is passed by.
  const { width, height, toOriginal } = frameOfEdits(file.width, file.height, edits);
  const importance = masks.importance.map((stroke: object) => ({
    ...stroke,
    over: { width, height, toOriginal },
  }));
  return {
    ...data,
    schema: 9,
    artwork: { ...artwork, masks: { ...masks, importance } },
    heights: { ...heights, closest: { ...heights?.closest, lean: 0 }, found: null },
  };
}

/** Version 9 knew no zones, and levelled every detail that was too small. */
function fromVersion9(data: object): object {
  const { artwork, heights } = data as { artwork?: { masks?: object }; heights?: object };
  return {
    ...data,
    schema: 10,
    artwork: { ...artwork, masks: { ...artwork?.masks, zones: [] } },
    heights: {
      ...heights,
      details: false,
      zones: { list: [], shared: 3, lean: 15, softMm: 0, order: 'found' },
    },
  };
}

/** Version 10 left the slicing to others: its printers said nothing of heat, acceleration, start and end. */
function fromVersion10(data: object): object {
  const { print } = data as { print?: { printer?: object } };
  const start = 'G21 ; millimetres|G90 ; places are absolute|M83 ; filament is relative';
  const heat = 'M140 S{bed}|M104 S{nozzle}|M190 S{bed}|M109 S{nozzle}|G28 ; home';
  return {
    ...data,
    schema: 11,
    print: {
      ...print,
      ironing: null,
      printer: {
        ...print?.printer,
        accelerationMmS2: 1500,
        cornerMmS: 8,
        retractMm: 1,
        retractMmS: 30,
        liftMm: 0,
        nozzleC: 210,
        bedC: 60,
        fanPercent: 100,
        purgeLine: true,
        timeFactor: 1,
        startText: `${start}|${heat}`.replaceAll('|', '\n'),
        endText: 'M104 S0|M140 S0|M107|M84 ; motors off'.replaceAll('|', '\n'),
      },
    },
  };
}

/** Version 11 knew no tags. */
function fromVersion11(data: object): object {
  return { ...data, schema: 12, tag: null };
}

/** Version 12 knew one side of a tag, and nothing flush with it. */
function fromVersion12(data: object): object {
  const { tag } = data as { tag?: { elements?: unknown } | null };
  if (!tag || !Array.isArray(tag.elements)) return { ...data, schema: 13 };
  const elements = tag.elements.map((element: unknown) =>
    typeof element === 'object' && element !== null && 'way' in element
      ? { ...element, side: 'front' }
      : element,
  );
  return {
    ...data,
    schema: 13,
    tag: { ...tag, flush: { print: 'first', layers: 2 }, back: 'plain', elements },
  };
}

/** Version 13 knew one height of layers for all pieces. */
function fromVersion13(data: object): object {
  const { print } = data as { print?: { pieces?: object } };
  return { ...data, schema: 14, print: { ...print, pieces: { ...print?.pieces, own: [] } } };
}

interface ArtworkOf8 {
  readonly file?: { readonly width: number; readonly height: number };
  readonly edits?: readonly ArtworkEdit[];
  readonly masks?: { readonly importance?: readonly object[] };
}

/** A stroke whose places went beside the document, as 64-bit floats, little-endian. */
function strokeFrom6(stroke: unknown): unknown {
  const points = (stroke as { points?: unknown } | null)?.points;
  const legal =
    Array.isArray(points) &&
    points.length >= 2 &&
    points.length <= 4000 &&
    points.every((one) => typeof one === 'number' && one >= -1 && one <= 2);
  if (!legal) return null;
  const bytes = new Uint8Array(new Float64Array(points as number[]).buffer);
  return { ...(stroke as object), points: keepData(bytes) };
}
