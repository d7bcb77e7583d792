import type { Band } from '../stack/stack.ts';
import { layerThicknessMm, type LayerGrid } from '../stack/layer-grid.ts';
import { bandsOfTops, findLevels, type LevelClash, type Top } from './levels.ts';
import type { OutlinePiece, PieceShapeOf } from './outline-piece.ts';
import { bordersCross, holds } from './border-tests.ts';
import { areaMm2, boxOf, grown, sharedRings, type Box, type Ring } from './rings.ts';
import type { ElementShape, TagShapes } from './shapes.ts';
import { isColoured, type ColouredElement, type Tag } from './tag.ts';

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

/** A tag whose levels are settled: bands and what is where. */
export interface PlannedTag {
  readonly piece: OutlinePiece;
  readonly bands: readonly Band[];
  readonly clashes: readonly LevelClash[];
  readonly badLevels: readonly LevelFault[];
  readonly outline: ElementShape;
  /** One for each element. */
  readonly shapes: readonly ElementShape[];
}

/** A box that holds nothing much, for a tag whose outline cannot be drawn. */
const EMPTY_BOX: Box = { left: -1, right: 1, bottom: -1, top: 1 };

/**
 * Everything that follows from a tag.
 * @param grid in whose layers it is printed; it decides how far the steps of a chamfer go back
 */
export function planTag(tag: Tag, shapes: TagShapes, grid: LayerGrid): PlannedTag {
  const outline = shapes.outline(tag);
  const own = tag.elements.map((element) => shapes.element(tag, element));
  const { layers: plate, filamentId } = tag.plate;
  const parts: PieceShapeOf[] = plateShapes(tag, outline.rings, grid);
  const tops: Top[] = [{ layer: plate, filamentId, element: -1 }];
  const badLevels: LevelFault[] = [];
  const holes: PieceShapeOf[] = [];
  tag.elements.forEach((element, i) => {
    const { rings, hole } = own[i] as ElementShape;
    if (rings.length === 0) return;
    if (element.kind === 'hole') {
      holes.push({ way: 'hole', layers: 0, rings });
      return;
    }
    if (element.kind === 'loop') {
      parts.unshift({ way: 'plate', layers: plate, rings });
      if (hole) holes.push({ way: 'hole', layers: 0, rings: hole });
      return;
    }
    const layer = topOf(element, plate);
    if (element.level < 1) badLevels.push({ element: i, layers: 1 });
    else if (layer < 1) badLevels.push({ element: i, layers: plate - 1 });
    else {
      tops.push({ layer, filamentId: element.filamentId, element: i });
      parts.push({ way: element.way === 'raised' ? 'raise' : 'sink', layers: layer, rings });
    }
  });
  const { bands, clashes } = bandsOfTops(tops);
  const all = parts.filter(({ way }) => way === 'plate').flatMap(({ rings }) => rings);
  return {
    piece: { shapes: [...parts, ...holes], box: boxOf(all) ?? EMPTY_BOX },
    bands,
    clashes,
    badLevels,
    outline,
    shapes: own,
  };
}

/** The layer that an element ends in. */
export function topOf({ way, level }: ColouredElement, plateLayers: number): number {
  return way === 'raised' ? plateLayers + level : plateLayers - level;
}

/** The plate, its upper layers stepped back where its edge is chamfered. */
function plateShapes(
  { plate: { layers, chamferLayers } }: Tag,
  rings: readonly Ring[],
  grid: LayerGrid,
): PieceShapeOf[] {
  const steps = Math.min(chamferLayers, layers - 1);
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
    isColoured(element) ? [{ element, i, rings: shapes.element(tag, element).rings }] : [],
  );
  const levels = new Map<number, number>();
  for (const way of ['raised', 'sunk'] as const) {
    const own = coloured.filter(({ element }) => element.way === way);
    const found = findLevels(
      tag.plate.filamentId,
      own.map(({ element: { filamentId, layers }, rings }, n) => ({
        filamentId,
        layers,
        over: own.flatMap((below, m) => (m < n && liesOn(rings, below.rings) ? [m] : [])),
      })),
    );
    own.forEach(({ i }, n) => levels.set(i, found.levels[n] as number));
  }
  if (coloured.every(({ element, i }) => levels.get(i) === element.level) || coloured.length === 0)
    return tag;
  return {
    ...tag,
    elements: tag.elements.map((element, i) => {
      const level = levels.get(i);
      return isColoured(element) && level !== undefined ? { ...element, level } : element;
    }),
  };
}

/** What lies on what is asked again for every filament that is tried. */
const known = new WeakMap<readonly Ring[], WeakMap<readonly Ring[], boolean>>();

function liesOn(rings: readonly Ring[], below: readonly Ring[]): boolean {
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
