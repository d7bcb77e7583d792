import type { Filament } from '#core/stack/filament.ts';
import type { Band } from '#core/stack/stack.ts';
import type { SuggestedStack } from '../workers/find/jobs.ts';
import { plannedFilament } from './document-facts.ts';
import { setZoneMembers } from './edits/zone-edits.ts';
import type { HeightsSlice, ProjectDocument } from './project-document.ts';

/** Filaments and layers of bands, in words: the same for the same ones. */
export function keyOfBands(
  bands: readonly { readonly filamentId: string; readonly layers: number }[],
): string {
  return bands.map(({ filamentId, layers }) => `${filamentId} ${layers}`).join('\n');
}

/** Bands that were found, with the locked ones of before in the place of those that are the same. */
export function carryLocked<Own extends Band>(
  found: readonly Band[],
  before: readonly Own[],
  fresh: (band: Band) => Own,
): Own[] {
  const locked = before.filter((band) => band.locked === true);
  return found.map((band) => {
    const [next] = locked;
    if (next?.filamentId !== band.filamentId || next.layers !== band.layers) return fresh(band);
    locked.shift();
    return next;
  });
}

/** The rule that a suggested stack was found for, as it was in the search. */
function heightsFollowing(
  { tone, closest, zones, flat }: HeightsSlice,
  stack: SuggestedStack,
): Pick<HeightsSlice, 'rule' | 'tone' | 'closest' | 'zones' | 'flat'> {
  if (stack.flat)
    return {
      rule: 'flat',
      tone,
      closest,
      zones,
      flat: { colours: stack.flat.map((one) => ({ ...one })) },
    };
  if (stack.tone)
    return {
      rule: 'tone',
      tone: { ...tone, reversed: false, curve: stack.tone.map((point) => ({ ...point })) },
      closest,
      zones,
      flat,
    };
  const { zoneIds } = stack;
  if (!zoneIds)
    return {
      rule: 'closest',
      tone,
      closest: { bandIds: null, aims: [], lean: stack.lean },
      zones,
      flat,
    };
  // Spans follow from the stack: those of another one say nothing.
  const place = ({ id }: { readonly id: string }): number =>
    zoneIds.includes(id) ? zoneIds.indexOf(id) : zoneIds.length;
  const list = [...zones.list]
    .sort((one, other) => place(one) - place(other))
    .map((zone) => ({ ...zone, span: null }));
  return { rule: 'zones', tone, closest, zones: { ...zones, list, lean: stack.lean }, flat };
}

/**
 * A document with a suggested stack in place of its own, and heights that follow as they did in the search. Locked bands that
 * come up again stay what they are.
 */
export function withSuggestion(
  before: ProjectDocument,
  stack: SuggestedStack,
  rack: readonly Filament[],
): ProjectDocument {
  const document = stack.zoneColours ? setZoneMembers(stack.zoneColours)(before) : before;
  const used = new Set(stack.bands.map(({ filamentId }) => filamentId));
  const filaments = { ...document.stack.filaments };
  for (const filament of rack)
    if (used.has(filament.id)) filaments[filament.id] = plannedFilament(filament);
  const followed = heightsFollowing(document.heights, stack);
  return {
    ...document,
    stack: {
      ...document.stack,
      bands: carryLocked(stack.bands, document.stack.bands, ({ filamentId, layers }) => ({
        id: crypto.randomUUID(),
        filamentId,
        layers,
      })),
      filaments: Object.fromEntries(Object.entries(filaments).filter(([id]) => used.has(id))),
    },
    heights: {
      ...document.heights,
      ...followed,
      found: {
        rule: followed.rule,
        lean: stack.lean,
        meanDeltaE: stack.meanDeltaE,
        bands: keyOfBands(stack.bands),
      },
    },
  };
}
