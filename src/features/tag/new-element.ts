import { boxOf } from '#core/tags/rings.ts';
import { liesOnFace, type ElementKind, type ElementSide } from '#core/tags/tag.ts';
import { brightnessOf, type Filament } from '#core/stack/filament.ts';
import type { KeptElement, ProjectDocument } from '../../state/project-document.ts';
import { filamentsOfTag, plannedTagOf } from '../../state/tag-plan.ts';

const NAMED = { name: '', group: null };

/** Sizes of new elements, as shares of the outline's shorter side. */
const TEXT_SHARE = 0.25;
const SHAPE_SHARE = 0.3;

/** Hole of a tag, mm: for a ring of a key. Common practice, no source. */
const HOLE_MM = 5;
/** What is left around a new hole, mm. */
const HOLE_RIM_MM = 3;

/** Round numbers of mm. */
const half = (mm: number): number => Math.round(mm * 2) / 2;

/**
 * The filament that stands out most from the plate: one that the tag has already, else one on hand of the rack.
 * @returns undefined where there is no other
 */
export function standingOut(
  { tag, stack }: ProjectDocument,
  rack: readonly Filament[],
): Filament | undefined {
  const plate = tag && stack.filaments[tag.plate.filamentId];
  if (!plate) return undefined;
  const own = filamentsOfTag(tag).flatMap((id) => stack.filaments[id] ?? []);
  const others = (list: readonly Filament[]): readonly Filament[] =>
    list.filter(({ id }) => id !== plate.id);
  const choices = [others(own), others(rack.filter(({ onHand }) => onHand)), others(rack)].find(
    (list) => list.length > 0,
  );
  const apart = (one: Filament): number => Math.abs(brightnessOf(one) - brightnessOf(plate));
  return choices?.reduce((best, one) => (apart(one) > apart(best) ? one : best));
}

/** A new element that suits a tag: in a filament that stands out from the plate, where there is room for it. */
export function newElement(
  kind: ElementKind,
  document: ProjectDocument,
  rack: readonly Filament[],
  side: ElementSide = 'front',
): KeptElement | undefined {
  const { tag } = document;
  if (!tag) return undefined;
  const box = boxOf(plannedTagOf(document)?.outline.rings ?? []);
  const { widthMm, heightMm } = tag.outline;
  const shorter = Math.min(widthMm, heightMm);
  const id = crypto.randomUUID();
  const place = { xMm: 0, yMm: 0, turnDeg: 0, mirrored: false };
  const used = tag.elements.findLast((element) => 'filamentId' in element);
  const filamentId =
    used && 'filamentId' in used && used.filamentId !== tag.plate.filamentId
      ? used.filamentId
      : (standingOut(document, rack)?.id ?? tag.plate.filamentId);
  // On a face that lies on the bed nothing else could be printed.
  const way = liesOnFace(tag, side) ? ('flush' as const) : ('raised' as const);
  const colour = { filamentId, way, side, layers: 4, level: 4 };
  const left = (box?.left ?? -widthMm / 2) + HOLE_RIM_MM + HOLE_MM / 2;
  switch (kind) {
    case 'text':
      return {
        kind,
        id,
        ...NAMED,
        ...place,
        ...colour,
        text: 'NAME',
        face: 'hanken-bold',
        heightMm: Math.max(3, half(TEXT_SHARE * shorter)),
        tracking: 0,
        lineSpacing: 1,
        arcMm: 0,
        fitMm: 0,
      };
    case 'shape': {
      const wide = Math.max(2, half(SHAPE_SHARE * shorter));
      const outline = { kind: 'disc' as const, widthMm: wide, heightMm: wide, cornerMm: 1 };
      return { kind, id, ...NAMED, ...place, ...colour, outline };
    }
    case 'rim':
      return { kind, id, ...NAMED, ...colour, insetMm: 1, widthMm: 1 };
    case 'hole':
      return {
        kind,
        id,
        ...NAMED,
        ...place,
        // Beside the middle where the tag is broad, above it where it is not.
        ...(widthMm > heightMm * 1.2
          ? { xMm: half(left) }
          : { yMm: half((box?.top ?? heightMm / 2) - HOLE_RIM_MM - HOLE_MM / 2) }),
        diameterMm: HOLE_MM,
        lengthMm: HOLE_MM,
      };
    case 'loop':
      return {
        kind,
        id,
        ...NAMED,
        ...place,
        ...(widthMm > heightMm * 1.2
          ? { xMm: half((box?.left ?? -widthMm / 2) - 1) }
          : { yMm: half((box?.top ?? heightMm / 2) + 1) }),
        diameterMm: HOLE_MM,
        rimMm: 2,
      };
  }
}
