import { BRIGHTNESS_STEPS, lightnessOfStep, type BrightnessMap } from '../artwork/brightness.ts';
import type { ColourCells } from '../artwork/colour-cells.ts';
import type { Json } from '../base/canonical-json.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';
import { calmHeights } from './calm-lines.ts';
import { calmQuickly, type CalmInput } from './calm.ts';
import { islandSamples, withoutIslands } from './islands.ts';
import {
  cheapestLayers,
  differencesOfCells,
  heightsOfCells,
  leaningCosts,
  nearestLayers,
  nearestLayersExactly,
  type LayerColours,
  type Lean,
} from './closest.ts';
import { growDetails } from './details.ts';
import { costsOfFlat, heightsOfFlat, type FlatColour } from './flat.ts';
import { toneCosts, toneHeights, type ToneRule } from './tone.ts';
import { planZones, type ZonedArtwork, type ZonesRule } from './zones.ts';

/** The height rules, by the word under which makers know them. */
export const HEIGHT_RULES = ['tone', 'closest', 'zones', 'flat'] as const;
export type HeightRuleKind = (typeof HEIGHT_RULES)[number];

/** How heights follow the picture: one rule with what it needs, and what calms all of them. */
export type HeightRule = (
  | { readonly kind: 'tone'; readonly tone: ToneRule }
  | {
      readonly kind: 'closest';
      readonly colours: LayerColours;
      /** None: colour alone decides. */
      readonly lean?: Lean | undefined;
    }
  | ({ readonly kind: 'zones' } & ZonesRule)
  | { readonly kind: 'flat'; readonly flat: readonly FlatColour[] }
) & {
  /** 0..1 */
  readonly calm: number;
  /** Side of the smallest island that stays, mm; 0 keeps all. */
  readonly smallestMm: number;
  /** Details smaller than that are grown to it where that costs less than to level them. */
  readonly details?: boolean | undefined;
  /** For heights that change with every move of a hand: a plainer measure of distance, a plainer calm, and islands stay. */
  readonly quick?: boolean | undefined;
};

/** The artwork at the resolution of the relief. */
export interface RuleArtwork extends ZonedArtwork {
  readonly brightness: BrightnessMap;
  /** Gathered only when a rule asks for colours. */
  readonly cells: () => ColourCells;
}

export interface RuleLimits {
  readonly layers: number;
  readonly leastLayers: number;
  /** Where the tops of the layers lie when those of the base are thicker; see `evenTops`. */
  readonly tops?: readonly number[] | undefined;
  readonly sampleMm: number;
}

/** Colours of brightness classes: greys on the rule's scale, near enough to L*. */
const GREYS = Float32Array.from({ length: 3 * BRIGHTNESS_STEPS }, (_, i) =>
  i % 3 === 0 ? lightnessOfStep(i / 3) : 0,
);

/** Heights of a picture by a rule, calmed and freed of islands. */
export function heightsByRule(
  artwork: RuleArtwork,
  rule: HeightRule,
  limits: RuleLimits,
  checkpoint: Checkpoint = noCheckpoint,
): HeightMap {
  const { calm, smallestMm, quick = false, details = false } = rule;
  const heights = plainHeights(artwork, rule, limits);
  checkpoint(0.3);
  // What the costs of heights are is asked for only where something weighs them: it takes longer than the heights themselves.
  if (calm <= 0 && !(details && smallestMm > 0 && !quick)) return printable(heights, rule, limits);
  const input = { heights, layers: limits.layers, ...weighed(artwork, rule, limits) };
  if (quick) return calmQuickly(input, calm, partOf(checkpoint, 0.3, 0.9));
  const calmed = calm > 0 ? calmHeights(input, calm, partOf(checkpoint, 0.3, 0.9)) : heights;
  const side = Math.ceil(smallestMm / limits.sampleMm - 1e-9);
  const kept = details ? growDetails({ ...input, heights: calmed }, side) : calmed;
  return printable(kept, rule, limits);
}

/** Takes away what is too small to be printed, but for heights that change with every move of a hand. */
function printable(
  heights: HeightMap,
  { smallestMm, quick = false }: HeightRule,
  { sampleMm }: RuleLimits,
): HeightMap {
  return smallestMm > 0 && !quick
    ? withoutIslands(heights, islandSamples(smallestMm, sampleMm))
    : heights;
}

/** Heights as the rule alone has them. */
function plainHeights(artwork: RuleArtwork, rule: HeightRule, limits: RuleLimits): HeightMap {
  const { layers, leastLayers, tops } = limits;
  if (rule.kind === 'tone')
    return toneHeights(artwork.brightness, rule.tone, layers, leastLayers, tops);
  if (rule.kind === 'zones') return planZones(artwork, rule, limits).heights;
  const cells = artwork.cells();
  const least = Math.min(leastLayers, layers);
  if (rule.kind === 'flat')
    return heightsOfCells(cells, heightsOfFlat(cells, rule.flat, layers, least));
  if (rule.lean || rule.calm > 0)
    return heightsOfCells(cells, cheapestLayers(closestCosts(cells, rule, limits), layers));
  const nearest = rule.quick ? nearestLayers : nearestLayersExactly;
  return heightsOfCells(cells, nearest(cells, rule.colours, least));
}

/** What every height costs every colour cell by closest blend: the one cost for the rule, its lean and calm. */
function closestCosts(
  cells: ColourCells,
  { colours, lean }: Extract<HeightRule, { readonly kind: 'closest' }>,
  { layers, leastLayers, tops }: RuleLimits,
): Float32Array {
  const least = Math.min(leastLayers, layers);
  return lean
    ? leaningCosts(cells, colours, lean, least, tops)
    : differencesOfCells(cells, colours, least);
}

/** What calm weighs under a rule. */
function weighed(
  artwork: RuleArtwork,
  rule: HeightRule,
  limits: RuleLimits,
): Omit<CalmInput, 'heights' | 'layers'> {
  const { layers, leastLayers, tops } = limits;
  if (rule.kind === 'tone')
    return {
      classes: artwork.brightness.data,
      costs: toneCosts(rule.tone, layers, leastLayers, tops),
      colours: GREYS,
    };
  if (rule.kind === 'zones') {
    const { classes, costs, colours } = planZones(artwork, rule, limits);
    return { classes, costs, colours };
  }
  const cells = artwork.cells();
  const costs =
    rule.kind === 'flat'
      ? costsOfFlat(cells, rule.flat, layers, Math.min(leastLayers, layers))
      : closestCosts(cells, rule, limits);
  return { classes: cells.cell, costs, colours: cells.colour };
}

/**
 * What heights cost by their colours, to part diagonal contacts by; undefined by tone, which knows no colours, and while a hand moves.
 */
export function pricesOfHeights(
  artwork: RuleArtwork,
  rule: HeightRule,
  limits: RuleLimits,
): Pick<CalmInput, 'classes' | 'costs' | 'layers'> | undefined {
  if (rule.kind === 'tone' || rule.quick) return undefined;
  const { classes, costs } = weighed(artwork, rule, limits);
  return { classes, costs, layers: limits.layers };
}

/** A rule as plain data, for stamps. What leaves heights as they are is left out, so that it never changes a stamp. */
export function ruleJson(rule: HeightRule): Json {
  const calming = {
    // By tone samples are only raised, as they always were; elsewhere what was parted without prices had other heights.
    ...(rule.kind === 'tone' ? {} : { parted: 'price' }),
    // Calm by lines: what was calmed sample by sample had other heights, and so another stamp.
    ...(rule.calm > 0 ? { calm: rule.calm, calmed: 'lines' } : {}),
    // Islands that came back where contacts were parted are taken away too: before, they stayed, under another stamp.
    ...(rule.smallestMm > 0 ? { smallestMm: rule.smallestMm, islands: 'parted' } : {}),
    ...(rule.smallestMm > 0 && rule.details === true ? { details: true } : {}),
  };
  switch (rule.kind) {
    case 'tone':
      return { ...toneJson(rule.tone), ...calming };
    case 'closest':
      // What layers aim at follows from the stack, but for bands that are left out and aim colours.
      return {
        kind: rule.kind,
        aims: Array.from(rule.colours, roundedOrNull),
        // What leaned by the plain distance had other heights, and so another stamp.
        ...(rule.lean
          ? { lean: rule.lean.price, near: 'square', tone: toneJson(rule.lean.tone) }
          : {}),
        ...calming,
      };
    case 'zones':
      return { ...zonesJson(rule), ...calming };
    case 'flat':
      return { kind: rule.kind, flat: rule.flat.map((colour) => ({ ...colour })), ...calming };
  }
}

function toneJson({ curve, ...points }: ToneRule): { readonly [key: string]: Json } {
  return { ...points, ...(curve ? { curve: curve.map((point) => ({ ...point })) } : {}) };
}

function zonesJson({
  kind,
  zones,
  painted,
  shared,
  lean,
  softMm,
  colours,
}: Extract<HeightRule, { readonly kind: 'zones' }>): { readonly [key: string]: Json } {
  return {
    kind,
    zones: zones.map(({ colours: own, reversed, span, curve }) => ({
      colours: [...own],
      ...(reversed ? { reversed } : {}),
      ...(span ? { span: [...span] } : {}),
      ...(curve ? { curve: curve.map((point) => ({ ...point })) } : {}),
    })),
    ...(painted.length > 0
      ? { painted: painted.map(({ zone, digest }) => ({ zone, digest })) }
      : {}),
    shared,
    lean,
    ...(softMm > 0 ? { softMm } : {}),
    aims: Array.from(colours, roundedOrNull),
  };
}

function roundedOrNull(value: number): number | null {
  return Number.isNaN(value) ? null : Math.round(value * 1000) / 1000;
}
