import type { Outline } from '#core/tags/outline-kinds.ts';
import { USUAL_FLUSH, type Tag } from '#core/tags/tag.ts';
import type { LayerGrid } from '#core/stack/layer-grid.ts';
import type { Filament } from '#core/stack/filament.ts';
import { newProject, firstStack } from './new-project.ts';
import { plannedFilament } from './document-facts.ts';
import type { ProjectDocument, TagSlice } from './project-document.ts';
import { groundsOf } from './rack-store.ts';
import { withTagSettled } from './tag-plan.ts';

/**
 * A picture of one white pixel: a tag's layers are outlines, and every project has a picture. PNG; the digest is that of these bytes.
 */
export const NO_PICTURE = {
  base64:
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGP4DwABAQEAsTj2FAAAAABJRU5ErkJggg==',
  digest: 'd44c0303173ecdb8ba72a7ab688f020583b31865537e2f9ab57e56aeec687807',
} as const;

/** The bytes of the picture that stands for none. */
export function noPictureBytes(): Uint8Array<ArrayBuffer> {
  return Uint8Array.from(atob(NO_PICTURE.base64), (sign) => sign.charCodeAt(0));
}

/** Layers of a tag. Common practice, no source: 2 mm of plate and 0.8 mm of letters print well at 0.2 mm. */
export const TAG_GRID: LayerGrid = { firstLayerMm: 0.2, layerMm: 0.2 };

/** Side of the samples by which a tag is counted and shown, mm: a quarter of a line. */
const TAG_SAMPLE_MM = 0.1;

/**
 * A project of a tag.
 * @param filaments those that it names, and more
 */
export function projectOfTag(
  name: string,
  tag: Tag,
  grid: LayerGrid,
  filaments: readonly Filament[],
): ProjectDocument {
  const plain = newProject(
    {
      name,
      artwork: {
        fileName: 'none.png',
        kind: 'png',
        digest: NO_PICTURE.digest,
        width: 1,
        height: 1,
        box: { left: 0, top: 0, width: 1, height: 1 },
      },
      histogram: new Uint32Array(4096),
    },
    filaments,
    [[tag.plate.filamentId, 1]],
  );
  const used = new Set([
    tag.plate.filamentId,
    ...tag.elements.flatMap((element) => ('filamentId' in element ? [element.filamentId] : [])),
  ]);
  return withTagSettled({
    ...plain,
    tag: tag as TagSlice,
    stack: {
      ...plain.stack,
      grid: { ...grid },
      filaments: {
        ...plain.stack.filaments,
        ...Object.fromEntries(
          filaments.flatMap((filament) =>
            used.has(filament.id) ? [[filament.id, plannedFilament(filament)]] : [],
          ),
        ),
      },
    },
    heights: { ...plain.heights, smallestMm: 0, leastLayers: 1 },
    piece: { ...plain.piece, sampleMm: TAG_SAMPLE_MM },
  });
}

/** A new tag of an outline: a plate in the darkest filament on hand, with a hole. */
export function newTag(name: string, outline: Outline, rack: readonly Filament[]): ProjectDocument {
  const [first] = firstStack(rack)[0] ?? [];
  const { black, white } = groundsOf(rack);
  const plate = rack.find(({ id }) => id === first) ?? black;
  return projectOfTag(
    name,
    {
      outline,
      plate: { filamentId: plate.id, layers: 10, chamferLayers: 0 },
      elements: [],
      levels: 'found',
      flush: USUAL_FLUSH,
      back: 'plain',
      series: null,
      fonts: [],
    },
    TAG_GRID,
    [...rack, black, white],
  );
}
