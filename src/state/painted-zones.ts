import type { Selection, SelectionStep } from '#core/edit/artwork-edit.ts';
import { selectionDigest } from '#core/edit/edits-digest.ts';
import type { PaintedSelection } from '#core/heights/zones.ts';
import type { ArtworkSlice, HeightsSlice, ProjectDocument } from './project-document.ts';
import { selectionOf } from './recipe.ts';
import { pointsOf } from './strokes.ts';

/** What was painted of zones, with all selections that it names. */
export interface PaintedZones {
  readonly painted: readonly PaintedSelection[];
  /** None where nothing was painted. */
  readonly selections: readonly Selection[];
}

const NOTHING: PaintedZones = { painted: [], selections: [] };

/** What was made already: slices never change in place. */
const made = new WeakMap<
  ArtworkSlice,
  { readonly zones: HeightsSlice['zones']; readonly result: PaintedZones }
>();

/**
 * What was painted of the zones of a document. Strokes become selections of their own; what belongs to a zone that is gone, or
 * whose places are lost, is left out.
 */
export function paintedZonesOf({
  artwork,
  heights: { zones },
}: Pick<ProjectDocument, 'artwork' | 'heights'>): PaintedZones {
  const { masks } = artwork;
  if (masks.zones.length === 0 || zones.list.length === 0) return NOTHING;
  const known = made.get(artwork);
  if (known?.zones === zones) return known.result;
  const named = artwork.selections.map(selectionOf);
  // Strokes of one zone that follow each other are one selection: each wants a look at the whole picture.
  const parts: {
    readonly zone: number;
    readonly selection: Selection;
    readonly stroked: boolean;
  }[] = [];
  for (const one of masks.zones) {
    const zone = zones.list.findIndex(({ id }) => id === one.zone);
    if (zone < 0) continue;
    if ('selection' in one) {
      const selection = named.find(({ id }) => id === one.selection);
      if (selection) parts.push({ zone, selection, stroked: false });
      continue;
    }
    const points = pointsOf(one.points);
    if (!points) continue;
    const step: SelectionStep = { way: 'add', from: 'brush', radius: one.radius, points };
    const last = parts.at(-1);
    if (last?.stroked && last.zone === zone)
      parts.splice(-1, 1, {
        ...last,
        selection: strokes(parts.length, [...last.selection.steps, step]),
      });
    else parts.push({ zone, selection: strokes(parts.length + 1, [step]), stroked: true });
  }
  const result: PaintedZones = {
    painted: parts.map(({ zone, selection }) => ({
      zone,
      selection: selection.id,
      digest: selectionDigest(selection, named),
    })),
    selections:
      parts.length === 0
        ? []
        : [...named, ...parts.flatMap((one) => (one.stroked ? [one.selection] : []))],
  };
  made.set(artwork, { zones, result });
  return result;
}

function strokes(place: number, steps: readonly SelectionStep[]): Selection {
  return { id: `zone-strokes-${place}`, name: '', steps, grow: 0, feather: 0, invert: false };
}
