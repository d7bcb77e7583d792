import { BRIGHTNESS_STEPS, lightnessOfStep, type BrightnessMap } from '../artwork/brightness.ts';
import type { ColourCells } from '../artwork/colour-cells.ts';
import type { Json } from '../base/canonical-json.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';
import { calmHeights, islandSamples, withoutIslands } from './calm.ts';
import {
  cheapestLayers,
  costsOfCells,
  heightsOfCells,
  leaningCosts,
  nearestLayers,
  nearestLayersExactly,
  type LayerColours,
  type Lean,
} from './closest.ts';
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
      /** Decided by a plainer measure of distance, for heights that change with every move of a hand. */
      readonly quick?: boolean | undefined;
    }
  | ({ readonly kind: 'zones' } & ZonesRule)
  | { readonly kind: 'flat'; readonly flat: readonly FlatColour[] }
) & {
  /** 0..1 */
  readonly calm: number;
  /** Side of the smallest island that stays, mm; 0 keeps all. */
  readonly smallestMm: number;
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
  { layers, leastLayers, tops, sampleMm }: RuleLimits,
  checkpoint: Checkpoint = noCheckpoint,
): HeightMap {
  const calming = partOf(checkpoint, 0.3, 0.8);
  const calmed = rule.calm > 0;
  let heights: HeightMap;
  if (rule.kind === 'tone') {
    const { brightness } = artwork;
    heights = toneHeights(brightness, rule.tone, layers, leastLayers, tops);
    if (calmed)
      heights = calmHeights(
        {
          heights,
          classes: brightness.data,
          costs: toneCosts(rule.tone, layers, leastLayers, tops),
          colours: GREYS,
          layers,
        },
        rule.calm,
        calming,
      );
  } else if (rule.kind === 'zones') {
    const plan = planZones(artwork, rule, { layers, leastLayers, tops, sampleMm });
    ({ heights } = plan);
    if (calmed) heights = calmHeights({ ...plan, layers }, rule.calm, calming);
  } else {
    const cells = artwork.cells();
    const least = Math.min(leastLayers, layers);
    const leaning =
      rule.kind === 'closest' && rule.lean
        ? leaningCosts(cells, rule.colours, rule.lean, least, tops)
        : undefined;
    const ofCells = (): Uint8Array => {
      if (leaning) return cheapestLayers(leaning, layers);
      if (rule.kind === 'flat') return heightsOfFlat(cells, rule.flat, layers, least);
      return (rule.quick ? nearestLayers : nearestLayersExactly)(cells, rule.colours, least);
    };
    heights = heightsOfCells(cells, ofCells());
    if (calmed) {
      const costs =
        leaning ??
        (rule.kind === 'closest'
          ? costsOfCells(cells, rule.colours, least)
          : costsOfFlat(cells, rule.flat, layers, least));
      const input = { heights, classes: cells.cell, costs, colours: cells.colour, layers };
      heights = calmHeights(input, rule.calm, calming);
    }
  }
  checkpoint(0.8);
  return rule.smallestMm > 0
    ? withoutIslands(heights, islandSamples(rule.smallestMm, sampleMm))
    : heights;
}

/** A rule as plain data, for stamps. What leaves heights as they are is left out, so that it never changes a stamp. */
export function ruleJson(rule: HeightRule): Json {
  const calming = {
    ...(rule.calm > 0 ? { calm: rule.calm } : {}),
    ...(rule.smallestMm > 0 ? { smallestMm: rule.smallestMm } : {}),
  };
  switch (rule.kind) {
    case 'tone':
      return { ...toneJson(rule.tone), ...calming };
    case 'closest':
      // What layers aim at follows from the stack, but for bands that are left out and aim colours.
      return {
        kind: rule.kind,
        aims: Array.from(rule.colours, roundedOrNull),
        ...(rule.lean ? { lean: rule.lean.price, tone: toneJson(rule.lean.tone) } : {}),
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
