import type { Filament } from '#core/stack/filament.ts';
import {
  insertBand,
  joinWithBelow,
  moveBoundary,
  removeBand,
  reorderBand,
  replaceFilament,
  restoreTotal,
  scaleStack,
  splitBand,
  totalLayers,
} from '#core/stack/stack.ts';
import { plannedFilament } from '../document-facts.ts';
import type { ProjectDocument, StackSlice } from '../project-document.ts';
import { alter, whole, type Edit } from './edit.ts';

type Band = StackSlice['bands'][number];

/** Layers of a band that is just being added. */
const NEW_BAND_LAYERS = 4;

/**
 * Puts changed bands into a document. Where the height of the stack is held, the bands beside `index` make up for what
 * was added or taken. Filaments that no band uses any more go.
 * @param index the band that was changed, or a place between bands as half a number
 */
function putBands(draft: ProjectDocument, bands: readonly Band[], index: number): void {
  const before = totalLayers(draft.stack.bands);
  draft.stack.bands = [...(draft.stack.holdTotal ? restoreTotal(bands, before, index) : bands)];
  const used = new Set(draft.stack.bands.map(({ filamentId }) => filamentId));
  for (const id of Object.keys(draft.stack.filaments))
    if (!used.has(id)) Reflect.deleteProperty(draft.stack.filaments, id);
}

/** Moves the upper edge of a band to the end of a layer, as far as it can go. */
export function moveEdge(bandIndex: number, layerNumber: number): Edit {
  return alter(`edge of band ${bandIndex}`, (draft) => {
    const {
      stack: { holdTotal },
    } = draft;
    const moved = moveBoundary(draft.stack.bands, bandIndex, layerNumber, { holdTotal });
    // An edge that cannot go farther makes no step of history.
    if (moved !== draft.stack.bands) draft.stack.bands = [...moved];
  });
}

/** Moves a band to another place in the order. */
export function moveBand(from: number, to: number): Edit {
  return alter('order of bands', (draft) => {
    const moved = reorderBand(draft.stack.bands, from, to);
    if (moved !== draft.stack.bands) draft.stack.bands = [...moved];
  });
}

/** Locks a band's layers and filament, or lets them go. */
export function lockBand(bandIndex: number, locked: boolean): Edit {
  return alter('lock', (draft) => {
    const band = draft.stack.bands[bandIndex];
    if (!band) return;
    if (locked) band.locked = true;
    else delete band.locked;
  });
}

/** Takes layers that do nothing away from a band; what lies above keeps its own and sinks. */
export function trimBand(bandIndex: number, idle: number): Edit {
  return alter('trim', (draft) => {
    const trimmed = draft.stack.bands.map((one, i) =>
      i === bandIndex ? { ...one, layers: one.layers - whole(idle, 0, one.layers - 1) } : one,
    );
    putBands(draft, trimmed, bandIndex);
  });
}

/** Divides a band in two of the same filament. */
export function splitInTwo(bandIndex: number): Edit {
  return alter('split', (draft) => {
    const split = splitBand(draft.stack.bands, bandIndex, (one) => ({
      ...one,
      id: crypto.randomUUID(),
    }));
    if (split !== draft.stack.bands) draft.stack.bands = [...split];
  });
}

/** Joins a band with the one under it, which keeps its filament. */
export function joinDown(bandIndex: number): Edit {
  return alter('join', (draft) => {
    putBands(draft, joinWithBelow(draft.stack.bands, bandIndex), bandIndex);
  });
}

/** Takes a band out of the stack; the last one stays. */
export function dropBand(bandIndex: number): Edit {
  return alter('remove band', (draft) => {
    putBands(draft, removeBand(draft.stack.bands, bandIndex), bandIndex - 0.5);
  });
}

/** Where a filament goes: in place of a band's, or into a new band above it. */
export interface FilamentPlace {
  readonly bandIndex: number;
  readonly mode: 'replace' | 'above';
}

/** Puts a filament into a band, or into a new band above it. A stack that is full stays as it is. */
export function putFilament({ bandIndex, mode }: FilamentPlace, filament: Filament): Edit {
  return alter('filament', (draft) => {
    const at = mode === 'replace' ? bandIndex : bandIndex + 1;
    const bands =
      mode === 'replace'
        ? replaceFilament(draft.stack.bands, bandIndex, filament.id)
        : insertBand(draft.stack.bands, at, {
            id: crypto.randomUUID(),
            filamentId: filament.id,
            layers: NEW_BAND_LAYERS,
          });
    if (bands === draft.stack.bands) return;
    draft.stack.filaments[filament.id] = plannedFilament(filament);
    putBands(draft, bands, at);
  });
}

/** Stretches or squeezes the whole stack to a number of layers. */
export function scaleLayers(layers: number): Edit {
  return alter('layers', (draft) => {
    if (!draft.stack.holdTotal) draft.stack.bands = [...scaleStack(draft.stack.bands, layers)];
  });
}

/** Holds the height of the stack while bands trade layers, or lets it go. */
export function holdTotalHeight(held: boolean): Edit {
  return alter('hold total', (draft) => {
    draft.stack.holdTotal = held;
  });
}

/** Takes the rack's values of filaments over that the project uses. */
export function takeRackValues(filaments: readonly Filament[]): Edit {
  return alter('values of the rack', (draft) => {
    for (const filament of filaments)
      if (Object.hasOwn(draft.stack.filaments, filament.id))
        draft.stack.filaments[filament.id] = plannedFilament(filament);
  });
}
