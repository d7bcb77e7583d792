import { z } from 'zod';
import { MAX_LAYERS } from '../../base/raster.ts';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import { FLUSH_PRINTS } from '../../stack/flush.ts';
import {
  GREATEST_LAYER_MM,
  LEAST_LAYER_MM,
  layerTopMm,
  type LayerGrid,
} from '../../stack/layer-grid.ts';
import { LONGEST_PATH, NAMED_OUTLINES } from '../../tags/outline-kinds.ts';
import { pathContours, readPath, type PathFault } from '../../tags/svg-path.ts';
import { MOST_ELEMENTS, MOST_FLUSH_LAYERS, MOST_PLATE_LAYERS } from '../../tags/tag-limits.ts';
import { TAG_FIELDS } from '../../tags/tag-schema.ts';
import {
  ELEMENT_SIDES,
  ELEMENT_WAYS,
  TAG_BACKS,
  USUAL_FLUSH,
  type ElementWay,
  type Tag,
  type TagElement,
} from '../../tags/tag.ts';

const layerMm = z.number().min(LEAST_LAYER_MM).max(GREATEST_LAYER_MM);
const { sideMm, placeMm, heightMm, tracking, arcMm, fitMm, widthMm, insetMm, holeMm, cornerMm } =
  TAG_FIELDS;
const filament = z.string().min(1);
const place = { xMm: placeMm.default(0), yMm: placeMm.default(0), turnDeg: z.number().default(0) };
const path = z.string().max(LONGEST_PATH);
const colour = {
  filament,
  way: z.enum(ELEMENT_WAYS).default('raised'),
  side: z.enum(ELEMENT_SIDES).default('front'),
  levelMm: z.number().min(0).max(100),
};

const OUTLINE_NAMES = [...NAMED_OUTLINES, 'svg'] as const;

const tagFile = z.strictObject({
  layerGrid: z.strictObject({ firstLayerMm: layerMm, layerMm }),
  outline: z.strictObject({
    kind: z.enum(OUTLINE_NAMES),
    widthMm: sideMm,
    heightMm: sideMm.optional(),
    cornerMm: cornerMm.default(0),
    path: path.optional(),
  }),
  plate: z.strictObject({
    filament,
    levelMm: z.number().gt(0).max(40),
    chamferLayers: z.int().min(0).max(MAX_LAYERS).default(0),
  }),
  /** How what is flush is printed; its thickness is the level of its elements. */
  flush: z.strictObject({ print: z.enum(FLUSH_PRINTS) }).default({ print: USUAL_FLUSH.print }),
  back: z.enum(TAG_BACKS).default('plain'),
  elements: z
    .array(
      z.discriminatedUnion('kind', [
        z.strictObject({
          kind: z.literal('text'),
          ...place,
          ...colour,
          text: TAG_FIELDS.text,
          font: z.string().min(1).default('Hanken Grotesk bold'),
          heightMm,
          tracking: tracking.default(0),
          arcMm: arcMm.default(0),
          fitMm: fitMm.default(0),
        }),
        z.strictObject({
          kind: z.literal('shape'),
          ...place,
          ...colour,
          path,
          widthMm: sideMm,
          heightMm: sideMm.optional(),
          fill: z.enum(['nonzero', 'evenodd']).optional(),
        }),
        z.strictObject({
          kind: z.literal('rim'),
          ...colour,
          widthMm,
          insetMm: insetMm.default(0),
        }),
        z.strictObject({
          kind: z.literal('hole'),
          ...place,
          diameterMm: holeMm,
          lengthMm: holeMm.optional(),
        }),
        z.strictObject({
          kind: z.literal('loop'),
          ...place,
          diameterMm: holeMm,
          rimMm: widthMm,
        }),
      ]),
    )
    .max(MOST_ELEMENTS)
    .default([]),
});

export type TagJsonFault =
  Fault<'not-json' | 'not-a-tag' | 'unknown-filament' | 'bad-path' | 'too-many-layers'> | PathFault;

/** A level that is told in mm and is no whole number of layers. */
export interface UnevenLevel {
  /** Place in the list of elements; -1 is the plate. */
  readonly element: number;
  readonly mm: number;
  /** The nearest that is. */
  readonly nearestMm: number;
}

/** A tag as a file tells it. Faces of its lettering go by the names that the file has for them. */
export interface ReadTag {
  readonly tag: Tag;
  readonly grid: LayerGrid;
  readonly uneven: readonly UnevenLevel[];
}

/** The layer whose top is nearest to a height. */
function layerAt(grid: LayerGrid, mm: number): { readonly layer: number; readonly offMm: number } {
  const layer = Math.max(1, Math.round((mm - grid.firstLayerMm) / grid.layerMm) + 1);
  return { layer, offMm: layerTopMm(grid, layer) - mm };
}

/**
 * Reads a tag: outline, plate and elements in mm from the middle, levels in mm over the plate (or down into it).
 * @param isKnown whether the rack has a filament
 */
export function readTagJson(
  text: string,
  isKnown: (filament: string) => boolean,
): Result<ReadTag, TagJsonFault> {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return fail('not-json', undefined, error instanceof Error ? error.message : undefined);
  }
  const parsed = tagFile.safeParse(data);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    return fail('not-a-tag', issue?.path.join('.'), issue?.message);
  }
  const { layerGrid: grid, outline, plate, elements, flush, back } = parsed.data;
  const used: (readonly [string, string])[] = [
    ['plate.filament', plate.filament],
    ...elements.flatMap((element, i) =>
      'filament' in element ? [[`elements.${i}.filament`, element.filament] as const] : [],
    ),
  ];
  const unknown = used.find(([, id]) => !isKnown(id));
  if (unknown) return fail('unknown-filament', ...unknown);
  for (const [where, drawn] of [
    ['outline.path', kindedPath(outline)] as const,
    ...elements.map(
      (element, i) =>
        [`elements.${i}.path`, element.kind === 'shape' ? element : undefined] as const,
    ),
  ]) {
    const lines = drawn?.path === undefined ? undefined : pathContours(drawn.path, drawn.widthMm);
    if (lines && !lines.ok && TANGLED.includes(lines.fault.code))
      return fail(lines.fault.code, where, lines.fault.detail);
  }
  const ratio = pathRatio(outline.path);
  if (outline.kind === 'svg' && ratio === undefined)
    return fail('bad-path', 'outline.path', outline.path?.slice(0, 40));
  const uneven: UnevenLevel[] = [];
  const plateLayers = layerAt(grid, plate.levelMm);
  if (Math.abs(plateLayers.offMm) > EVEN_MM)
    uneven.push({ element: -1, mm: plate.levelMm, nearestMm: plate.levelMm + plateLayers.offMm });
  const plateTopMm = layerTopMm(grid, plateLayers.layer);
  /** Layers of all that is flush: the face lies on the bed, so they are counted from there. */
  let flushLayers: number | undefined;
  const flushLevelOf = (i: number, mm: number): number => {
    const { layer, offMm } = layerAt(grid, mm);
    flushLayers ??= layer;
    // Inlays are of one thickness: what stands over others would not lie in the face.
    if (Math.abs(offMm) > EVEN_MM || layer !== flushLayers)
      uneven.push({ element: i, mm, nearestMm: layerTopMm(grid, flushLayers) });
    return layer;
  };
  /** Layers over the plate, or down into it, of a level in mm. */
  const levelOf = (i: number, mm: number, way: ElementWay): number => {
    if (way === 'flush') return flushLevelOf(i, mm);
    const sign = way === 'raised' ? 1 : -1;
    const { layer } = layerAt(grid, plateTopMm + sign * mm);
    const level = Math.abs(layer - plateLayers.layer);
    const whole = sign * (layerTopMm(grid, layer) - plateTopMm);
    if (Math.abs(whole - mm) > EVEN_MM || level === 0)
      uneven.push({ element: i, mm, nearestMm: level === 0 ? grid.layerMm : whole });
    return Math.max(1, level);
  };
  const tooHigh = tooManyLayers();
  if (tooHigh) return tooHigh;
  const read = elements.map(elementOf);
  const { kind, widthMm, heightMm, cornerMm, path } = outline;
  return succeed({
    grid,
    uneven,
    tag: {
      outline: {
        kind: kind === 'svg' ? 'path' : kind,
        widthMm,
        heightMm: heightMm ?? widthMm * (kind === 'svg' ? (ratio ?? 1) : 1),
        cornerMm,
        ...(kind === 'svg' ? { path } : {}),
      },
      plate: {
        filamentId: plate.filament,
        layers: plateLayers.layer,
        chamferLayers: plate.chamferLayers,
      },
      levels: 'own',
      series: null,
      fonts: [],
      flush: { ...flush, layers: flushLayers ?? USUAL_FLUSH.layers },
      back,
      elements: read,
    },
  });

  /** The first level that has more layers than a piece can have; a cut one would be another piece. */
  function tooManyLayers(): Result<never, TagJsonFault> | undefined {
    const refused = (where: string, layers: number, most: number): Result<never, TagJsonFault> =>
      fail(
        'too-many-layers',
        where,
        `${layers} layers of ${grid.layerMm} mm, and can have ${most}`,
      );
    if (plateLayers.layer > MOST_PLATE_LAYERS)
      return refused('plate.levelMm', plateLayers.layer, MOST_PLATE_LAYERS);
    for (const [i, element] of elements.entries()) {
      if (!('levelMm' in element)) continue;
      const where = `elements.${i}.levelMm`;
      const { way, levelMm } = element;
      const { layer } = layerAt(grid, way === 'raised' ? plateTopMm + levelMm : levelMm);
      const most = way === 'flush' ? MOST_FLUSH_LAYERS : MAX_LAYERS;
      if (layer > most) return refused(where, layer, most);
    }
    return undefined;
  }

  function elementOf(element: (typeof elements)[number], i: number): TagElement {
    const named = { id: `e${i + 1}`, name: '', group: null };
    const placed =
      element.kind === 'rim'
        ? undefined
        : { xMm: element.xMm, yMm: element.yMm, turnDeg: element.turnDeg, mirrored: false };
    if (!('filament' in element)) {
      const { diameterMm } = element;
      const at = placed ?? { xMm: 0, yMm: 0, turnDeg: 0, mirrored: false };
      return element.kind === 'hole'
        ? {
            kind: 'hole',
            ...named,
            ...at,
            diameterMm,
            lengthMm: element.lengthMm ?? diameterMm,
          }
        : { kind: 'loop', ...named, ...at, diameterMm, rimMm: element.rimMm };
    }
    const level = levelOf(i, element.levelMm, element.way);
    const { filament: filamentId, way, side } = element;
    const own = { filamentId, way, side, layers: level, level };
    if (element.kind === 'rim') {
      const { widthMm: lineMm, insetMm } = element;
      return { kind: 'rim', ...named, ...own, widthMm: lineMm, insetMm };
    }
    const at = placed ?? { xMm: 0, yMm: 0, turnDeg: 0, mirrored: false };
    if (element.kind === 'text')
      return {
        kind: 'text',
        ...named,
        ...at,
        ...own,
        text: element.text,
        face: element.font,
        heightMm: element.heightMm,
        tracking: element.tracking,
        lineSpacing: 1,
        arcMm: element.arcMm,
        fitMm: element.fitMm,
      };
    return {
      kind: 'shape',
      ...named,
      ...at,
      ...own,
      outline: {
        kind: 'path',
        path: element.path,
        ...(element.fill ? { fill: element.fill } : {}),
        widthMm: element.widthMm,
        heightMm: element.heightMm ?? element.widthMm * (pathRatio(element.path) ?? 1),
        cornerMm: 0,
      },
    };
  }
}

/** What is wrong with a path that could be read, and could not be printed. */
const TANGLED: readonly string[] = ['tangled', 'too-many-corners', 'too-long'];

const kindedPath = <Outline extends { readonly kind: string; readonly path?: string | undefined }>(
  outline: Outline,
): Outline | undefined => (outline.kind === 'svg' ? outline : undefined);

/** Levels are whole layers within this, mm: decimals of a file are no trouble. */
const EVEN_MM = 1e-6;

/** Height over width of path data; undefined where it is none. */
function pathRatio(path: string | undefined): number | undefined {
  const read = path === undefined ? undefined : readPath(path);
  return read?.ok === true && read.value.width > 0
    ? read.value.height / read.value.width
    : undefined;
}
