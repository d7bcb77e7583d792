import { z } from 'zod';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { GREATEST_FLAT_COLOURS } from '#core/heights/flat.ts';
import { aimColours, coloursOfRamp, onlyBands } from '#core/heights/closest.ts';
import { MOST_LEAN } from '#core/stack/lean.ts';
import { ZONE_ORDERS } from '#core/heights/zone-orders.ts';
import type { PaintedSelection } from '#core/heights/zones.ts';
import { MOST_ZONES, MOST_ZONE_COLOURS } from '#core/zones/zone.ts';
import { HEIGHT_RULES, type HeightRule } from '#core/heights/height-rules.ts';
import { rampOfStack, type FilamentTable } from '#core/stack/stack-ramp.ts';
import type { Band, Stack } from '#core/stack/stack.ts';
import { GREATEST_CURVE_POINTS, LEAST_CURVE_POINTS } from '#core/heights/tone.ts';

/** Largest islands that can be asked to go, mm. */
export const GREATEST_ISLAND_MM = 10;

const hex = z.string().regex(/^#[0-9a-f]{6}$/);
const layerNumber = z.int().min(1).max(MAX_LAYERS);
const lightness = z.number().min(0).max(100);

const curve = z
  .array(z.object({ lightness, position: z.number().min(0).max(1) }))
  .min(LEAST_CURVE_POINTS)
  .max(GREATEST_CURVE_POINTS)
  .refine(
    (points) => points.every((point, i) => point.lightness >= (points[i - 1]?.lightness ?? 0)),
    'points out of order',
  );

/** Longest name of a zone. */
export const LONGEST_ZONE_NAME = 60;

/** Within how far of a border the better of two zones may count, mm. */
export const GREATEST_SOFT_MM = 3;

/** A part of the picture that stands before or behind others. What was painted of it stands with the artwork. */
const zoneSchema = z.object({
  id: z.string().min(1).max(100),
  name: z.string().max(LONGEST_ZONE_NAME),
  colours: z.array(hex).max(2 * MOST_ZONE_COLOURS),
  /** Lowest and highest layer; null where they follow from the colours. */
  span: z
    .tuple([layerNumber, layerNumber])
    .refine(([low, high]) => low <= high, 'a span upside down')
    .nullable(),
  reversed: z.boolean(),
  /** How lightness runs over the span; null where colour decides. */
  curve: curve.nullable(),
});

/** How heights follow from the picture. */
export const heightsSchema = z.object({
  /** The rule that counts. What was set under the others is kept. */
  rule: z.enum(HEIGHT_RULES),
  tone: z.object({
    kind: z.literal('tone'),
    blackPoint: lightness,
    whitePoint: lightness,
    midpoint: lightness,
    reversed: z.boolean(),
    curve: curve.optional(),
  }),
  closest: z.object({
    /** Bands that heights may end in; null for all. */
    bandIds: z.array(z.string()).nullable(),
    aims: z.array(z.object({ colour: hex, layerNumber })).max(MAX_LAYERS),
    /** See `Lean.price`. */
    lean: z.number().min(0).max(MOST_LEAN),
  }),
  /** What the stack was found for, with the colour error that it had then; null where it was not found. */
  found: z
    .object({
      rule: z.enum(HEIGHT_RULES),
      lean: z.number().min(0).max(MOST_LEAN),
      meanDeltaE: z.number().min(0).max(200),
      /** The bands that were found: with others it says nothing. */
      bands: z.string().max(20_000),
      /** It was looked for when the picture came, not asked for. */
      first: z.boolean().optional(),
    })
    .nullable(),
  zones: z.object({
    /** Lowest first. */
    list: z.array(zoneSchema).max(MOST_ZONES),
    /** Layers that neighbours may share; null: as many as they like. */
    shared: z.int().min(0).max(MAX_LAYERS).nullable(),
    /** See `ZonesRule.lean`. */
    lean: z.number().min(0).max(MOST_LEAN),
    softMm: z.number().min(0).max(GREATEST_SOFT_MM),
    /** How the order came about: a search keeps one by hand. */
    order: z.enum([...ZONE_ORDERS, 'hand']),
  }),
  flat: z.object({
    colours: z.array(z.object({ colour: hex, layers: layerNumber })).max(GREATEST_FLAT_COLOURS),
  }),
  calm: z.number().min(0).max(1),
  /** Side of the smallest island that is printed, mm; 0 keeps all. */
  smallestMm: z.number().min(0).max(GREATEST_ISLAND_MM),
  /** Details that are smaller grow to it where that costs less than to level them. */
  details: z.boolean(),
  leastLayers: layerNumber,
});

/**
 * The rule of a heights slice with all that it takes from the stack.
 * @param painted what was painted of the zones
 */
export function ruleOfHeights(
  { rule, tone, closest, zones, flat, calm, smallestMm, details }: z.infer<typeof heightsSchema>,
  stack: Omit<Stack, 'bands'> & { readonly bands: readonly (Band & { readonly id: string })[] },
  filaments: FilamentTable,
  painted: readonly PaintedSelection[] = [],
): HeightRule {
  const calming = { calm, smallestMm, ...(details ? { details } : {}) };
  switch (rule) {
    case 'tone':
      return { kind: 'tone', tone, ...calming };
    case 'closest': {
      const ramp = rampOfStack(stack, filaments);
      const aimed = aimColours(coloursOfRamp(ramp), closest.aims);
      const { bandIds } = closest;
      const allowed = new Set(
        stack.bands.flatMap(({ id }, i) => (bandIds === null || bandIds.includes(id) ? [i] : [])),
      );
      // A choice of bands that are all gone counts as none.
      const colours = allowed.size > 0 ? onlyBands(aimed, ramp, allowed) : aimed;
      const { lean: price } = closest;
      return {
        kind: 'closest',
        colours,
        ...(price > 0 ? { lean: { price, tone } } : {}),
        ...calming,
      };
    }
    case 'zones': {
      const { list, shared, lean, softMm } = zones;
      // Before the picture was parted there is nothing to order: tone holds the place.
      if (list.length === 0) return { kind: 'tone', tone, ...calming };
      return {
        kind: 'zones',
        zones: list.map(({ colours, span, reversed, curve: own }) => ({
          colours,
          span,
          reversed,
          ...(own ? { curve: own } : {}),
        })),
        painted,
        shared,
        lean,
        softMm,
        colours: coloursOfRamp(rampOfStack(stack, filaments)),
        ...calming,
      };
    }
    case 'flat':
      // Before the picture was reduced there is nothing to map: tone holds the place.
      return flat.colours.length > 0
        ? { kind: 'flat', flat: flat.colours, ...calming }
        : { kind: 'tone', tone, ...calming };
  }
}
