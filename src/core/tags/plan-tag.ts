import type { Band } from '../stack/stack.ts';
import { flushSwaps, type FlushFace } from '../stack/flush.ts';
import { layerThicknessMm, type LayerGrid } from '../stack/layer-grid.ts';
import { bandsOfTops, findLevels, type LevelClash, type Top } from './levels.ts';
import type { OutlinePiece, PieceShapeOf } from './outline-piece.ts';
import { faceEntry, type FaceView } from './face-ramp.ts';
import { bordersCross, holds } from './border-tests.ts';
import { areaMm2, boxOf, grown, mirroredRings, sharedRings, type Box, type Ring } from './rings.ts';
import { joinPieces } from './series.ts';
import type { ElementShape, TagShapes } from './shapes.ts';
import {
  isColoured,
  isOnSide,
  liesOnFace,
  type ColouredElement,
  type ElementSide,
  type Tag,
  type TagElement,
} from './tag.ts';

/** Of longer borders that cross no area is worked out: nobody lays lettering of many words edge to edge with something. */
const MOST_WEIGHED = 1500;

/** Less than this of one element on another is no lying on it, mm²: rounding of borders that meet. */
const LEAST_SHARED_MM2 = 0.01;

/** A level that the plate does not have: raised by less than a layer, or sunk through. */
export interface LevelFault {
  readonly element: number;
  /** Layers that it may have at most, or at least. */
  readonly layers: number;
}

/** An element that lies as it cannot be printed. */
export interface WayFault {
  readonly element: number;
  /**
   * `stands-out`: the face lies on the bed, and it stands out of it or goes into it. `on-top`: it is flush on the side that is printed
   * last. `no-cover`: it goes so deep that nothing would cover an inlay; `thin-plate`: the plate is no thicker than its inlay.
   */
  readonly why: 'stands-out' | 'on-top' | 'no-cover' | 'thin-plate';
}

/** A tag whose levels are settled: bands and what is where. */
export interface PlannedTag {
  /** As it is printed, seen from above: a flush face lies on the bed, and two halves beside each other. */
  readonly piece: OutlinePiece;
  /** As it is looked at, where a face of it lies on the bed; else as it is printed. */
  readonly face?: FaceView | undefined;
  readonly bands: readonly Band[];
  /** Changes of filament in all, those of a flush face with them. */
  readonly swaps: number;
  readonly clashes: readonly LevelClash[];
  readonly badLevels: readonly LevelFault[];
  readonly wayFaults: readonly WayFault[];
  readonly outline: ElementShape;
  /** One for each element, seen from its own side. */
  readonly shapes: readonly ElementShape[];
  /** The rectangle around the front, mm. */
  readonly box: Box;
}

/** A box that holds nothing much, for a tag whose outline cannot be drawn. */
const EMPTY_BOX: Box = { left: -1, right: 1, bottom: -1, top: 1 };

/** Room between two halves on the bed, mm. */
const HALVES_APART_MM = 5;

/** What is settled over all sides of a tag. */
interface Settled {
  readonly parts: readonly Part[];
  readonly bands: readonly Band[];
  /** Filaments of inlays, by their numbers from 1. */
  readonly inlays: readonly string[];
}

/** An element where it counts. */
interface Part {
  readonly element: TagElement;
  readonly shape: ElementShape;
  /** The face that it is seen on. */
  readonly side: ElementSide;
}

/**
 * Everything that follows from a tag.
 * @param grid in whose layers it is printed; it decides how far the steps of a chamfer go back
 */
export function planTag(tag: Tag, shapes: TagShapes, grid: LayerGrid): PlannedTag {
  const outline = shapes.outline(tag);
  const forms = tag.elements.map((element) => shapes.element(tag, element));
  const { layers: plate, filamentId } = tag.plate;
  const tops: Top[] = [{ layer: plate, filamentId, element: -1 }];
  const badLevels: LevelFault[] = [];
  const wayFaults: WayFault[] = [];
  const parts: Part[] = [];
  tag.elements.forEach((element, i) => {
    const shape = forms[i] as ElementShape;
    if (shape.rings.length === 0 || !isPrinted(tag, element)) return;
    if (!isColoured(element)) {
      parts.push({ element, shape, side: 'front' });
      return;
    }
    const why = wayFaultOf(tag, element);
    if (why) wayFaults.push({ element: i, why });
    else if (element.way === 'flush') parts.push({ element, shape, side: element.side });
    else {
      const layer = topOf(element, plate);
      if (element.level < 1) badLevels.push({ element: i, layers: 1 });
      else if (layer < 1) badLevels.push({ element: i, layers: plate - 1 });
      else {
        tops.push({ layer, filamentId: element.filamentId, element: i });
        parts.push({ element, shape, side: element.side });
      }
    }
  });
  const { bands, clashes } = bandsOfTops(tops);
  const inlays = inlaysOf(tag, bands);
  const settled: Settled = { parts, bands, inlays };
  const sides: readonly ElementSide[] =
    tag.back === 'same' || tag.back === 'halves' ? ['front', 'back'] : ['front'];
  const printed = sides.map((side) => printedSide(tag, outline, settled, side, grid));
  const piece = besideEachOther(printed);
  // Within one layer there is nothing to hop over, and no more to change: both ways are the same then.
  const { layers: flushLayers } = tag.flush;
  const print = flushLayers === 1 ? 'within' : tag.flush.print;
  const own: FlushFace = { print, layers: flushLayers, filaments: inlays };
  const looked = sides.map((side) => faceOfSide(tag, outline, settled, side, grid));
  const onFace = sides.filter((side) => liesOnFace(tag, side));
  const wholly = onFace.length === sides.length;
  const face: FaceView | undefined =
    onFace.length > 0
      ? { piece: besideEachOther(looked), plateLayers: plate, inlays: own, wholly }
      : undefined;
  return {
    piece: inlays.length > 0 ? { ...piece, inlays: own } : piece,
    ...(face ? { face } : {}),
    bands,
    swaps: bands.length - 1 + flushSwaps(tag.flush, inlays.length),
    clashes,
    badLevels,
    wayFaults,
    outline,
    shapes: forms,
    box: looked[0]?.box ?? EMPTY_BOX,
  };
}

/** Is an element printed at all, with the back that its tag has? */
export function isPrinted({ back }: Pick<Tag, 'back'>, element: TagElement): boolean {
  return !isColoured(element) || element.side === 'front' || back === 'halves' || back === 'one';
}

function wayFaultOf(tag: Tag, element: ColouredElement): WayFault['why'] | undefined {
  const { plate, flush, back } = tag;
  const onBed = liesOnFace(tag, element.side);
  if (element.way === 'flush') {
    if (!onBed) return 'on-top';
    return plate.layers <= flush.layers ? 'thin-plate' : undefined;
  }
  if (onBed) return 'stands-out';
  const covers = back === 'one' && liesOnFace(tag, 'front');
  if (covers && element.way === 'sunk' && topOf(element, plate.layers) <= flush.layers)
    return 'no-cover';
  return undefined;
}

/** Filaments of what is flush, as they come in the list; that of the face itself needs no inlay. */
function inlaysOf(tag: Tag, bands: readonly Band[]): string[] {
  return [
    ...new Set(
      tag.elements.flatMap((element) =>
        isColoured(element) &&
        element.way === 'flush' &&
        isPrinted(tag, element) &&
        wayFaultOf(tag, element) === undefined &&
        element.filamentId !== bands[0]?.filamentId
          ? [element.filamentId]
          : [],
      ),
    ),
  ];
}

/** One side's piece as it is printed, seen from above. */
function printedSide(
  tag: Tag,
  outline: ElementShape,
  { parts, inlays }: Settled,
  side: ElementSide,
  grid: LayerGrid,
): OutlinePiece {
  const onFace = liesOnFace(tag, side);
  // What is drawn for the front is seen mirrored from the back, and what lies on its face as well.
  const through = (rings: readonly Ring[]): readonly Ring[] =>
    onFace === (side === 'front') ? mirroredRings(rings) : rings;
  const own = (rings: readonly Ring[]): readonly Ring[] => (onFace ? mirroredRings(rings) : rings);
  const least = onFace ? tag.flush.layers + 1 : 1;
  const { plates, holes } = bareSide(tag, outline, parts, through, grid, least);
  const shapes: PieceShapeOf[] = [...plates];
  for (const { element, shape, side: seen } of parts) {
    if (!isColoured(element)) continue;
    const over = tag.back === 'one' && seen === 'back';
    if (!over && !isOnSide(tag, element, side)) continue;
    if (element.way === 'flush')
      shapes.push({
        way: 'inlay',
        layers: inlays.indexOf(element.filamentId) + 1,
        rings: own(shape.rings),
      });
    else
      shapes.push({
        way: element.way === 'raised' ? 'raise' : 'sink',
        layers: topOf(element, tag.plate.layers),
        rings: over ? shape.rings : own(shape.rings),
      });
  }
  return withBox([...shapes, ...holes]);
}

/**
 * One side's piece as it is looked at, from its face. Of one that lies on its face heights are entries of `rampOfFaces`: its own
 * filament is the first above all layers, and its inlays follow.
 */
function faceOfSide(
  tag: Tag,
  outline: ElementShape,
  settled: Settled,
  side: ElementSide,
  grid: LayerGrid,
): OutlinePiece {
  if (!liesOnFace(tag, side)) return printedSide(tag, outline, settled, side, grid);
  const { parts, bands, inlays } = settled;
  const through = (rings: readonly Ring[]): readonly Ring[] =>
    side === 'front' ? rings : mirroredRings(rings);
  const { plates, holes } = bareSide(tag, outline, parts, through, grid, tag.plate.layers);
  const inlaid = parts.flatMap(({ element, shape }): PieceShapeOf[] =>
    isColoured(element) && element.way === 'flush' && isOnSide(tag, element, side)
      ? [
          {
            way: 'sink',
            layers: faceEntry(bands, inlays.indexOf(element.filamentId) + 1),
            rings: shape.rings,
          },
        ]
      : [],
  );
  const face = faceEntry(bands, 0);
  return withBox([...plates.map((shape) => ({ ...shape, layers: face })), ...inlaid, ...holes]);
}

/** Plate, loops and holes of a side. */
function bareSide(
  tag: Tag,
  outline: ElementShape,
  parts: readonly Part[],
  through: (rings: readonly Ring[]) => readonly Ring[],
  grid: LayerGrid,
  leastLayers: number,
): { readonly plates: readonly PieceShapeOf[]; readonly holes: readonly PieceShapeOf[] } {
  const plates = plateShapes(tag, outline.rings, grid, leastLayers);
  const holes: PieceShapeOf[] = [];
  for (const { element, shape } of parts) {
    if (element.kind === 'hole') holes.push({ way: 'hole', layers: 0, rings: shape.rings });
    if (element.kind !== 'loop') continue;
    plates.unshift({ way: 'plate', layers: tag.plate.layers, rings: shape.rings });
    if (shape.hole) holes.push({ way: 'hole', layers: 0, rings: shape.hole });
  }
  const turned = (shape: PieceShapeOf): PieceShapeOf => ({ ...shape, rings: through(shape.rings) });
  return { plates: plates.map(turned), holes: holes.map(turned) };
}

function withBox(shapes: readonly PieceShapeOf[]): OutlinePiece {
  const all = shapes.filter(({ way }) => way === 'plate').flatMap(({ rings }) => rings);
  return { shapes, box: boxOf(all) ?? EMPTY_BOX };
}

/** Halves side by side as one piece; one alone as it is. */
function besideEachOther(pieces: readonly OutlinePiece[]): OutlinePiece {
  const [first] = pieces;
  if (!first || pieces.length === 1) return first ?? { shapes: [], box: EMPTY_BOX };
  const { left, right, bottom, top } = first.box;
  const cell = { widthMm: right - left, heightMm: top - bottom };
  return joinPieces(pieces, pieces.length, cell, HALVES_APART_MM);
}

/** The layer that an element ends in; of what is flush that of the plate. */
export function topOf({ way, level }: ColouredElement, plateLayers: number): number {
  if (way === 'flush') return plateLayers;
  return way === 'raised' ? plateLayers + level : plateLayers - level;
}

/** The plate, its upper layers stepped back where its edge is chamfered; so many stay as they are. */
function plateShapes(
  { plate: { layers, chamferLayers } }: Tag,
  rings: readonly Ring[],
  grid: LayerGrid,
  leastLayers: number,
): PieceShapeOf[] {
  const steps = Math.max(0, Math.min(chamferLayers, layers - leastLayers));
  const shapes: PieceShapeOf[] = [{ way: 'plate', layers: layers - steps, rings }];
  let back = 0;
  for (let layer = layers - steps + 1; layer <= layers; layer += 1) {
    back += layerThicknessMm(grid, layer);
    const inner = grown(rings, -back, false);
    if (inner.length > 0) shapes.push({ way: 'plate', layers: layer, rings: inner });
  }
  return shapes;
}

/** A tag whose levels have the fewest swaps for the filaments that are wished. */
export function withFoundLevels(tag: Tag, shapes: TagShapes): Tag {
  const coloured = tag.elements.flatMap((element, i) =>
    isColoured(element) &&
    isPrinted(tag, element) &&
    liesOnFace(tag, element.side) === (element.way === 'flush')
      ? [{ element, i, rings: shapes.element(tag, element).rings }]
      : [],
  );
  const levels = new Map<number, number>();
  for (const way of ['raised', 'sunk'] as const) {
    const own = coloured.filter(({ element }) => element.way === way);
    const found = findLevels(
      tag.plate.filamentId,
      own.map(({ element: { filamentId, layers, side }, rings }, n) => ({
        filamentId,
        layers,
        over: own.flatMap((below, m) =>
          m < n && below.element.side === side && liesOn(rings, below.rings) ? [m] : [],
        ),
      })),
    );
    own.forEach(({ i }, n) => levels.set(i, found.levels[n] as number));
  }
  if (coloured.every(({ element, i }) => (levels.get(i) ?? element.level) === element.level))
    return tag;
  return {
    ...tag,
    elements: tag.elements.map((element, i) => {
      const level = levels.get(i);
      return isColoured(element) && level !== undefined ? { ...element, level } : element;
    }),
  };
}

/** What was found: it is asked again for every filament that is tried. */
const known = new WeakMap<readonly Ring[], WeakMap<readonly Ring[], boolean>>();

/** Do some rings and others have an area in common? */
export function liesOn(rings: readonly Ring[], below: readonly Ring[]): boolean {
  const own = known.get(rings) ?? new WeakMap<readonly Ring[], boolean>();
  known.set(rings, own);
  const before = own.get(below);
  if (before !== undefined) return before;
  const lies = overlap(rings, below);
  own.set(below, lies);
  return lies;
}

function overlap(rings: readonly Ring[], below: readonly Ring[]): boolean {
  const [a, b] = [boxOf(rings), boxOf(below)];
  if (!a || !b) return false;
  if (a.right < b.left || b.right < a.left || a.top < b.bottom || b.top < a.bottom) return false;
  // Most lie clear of each other, or within each other: only where borders cross their area is worked out.
  if (!bordersCross(rings, below))
    return rings.some((ring) => holds(below, ring)) || below.some((ring) => holds(rings, ring));
  const corners = [...rings, ...below].reduce((sum, ring) => sum + ring.length / 2, 0);
  return corners > MOST_WEIGHED || areaMm2(sharedRings(rings, below)) > LEAST_SHARED_MM2;
}
