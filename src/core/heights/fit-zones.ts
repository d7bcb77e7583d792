import type { ColourCells } from '../artwork/colour-cells.ts';
import { heightScale } from '../stack/height-scale.ts';
import { binOfLightness, cheapestOrder, solveCurves, type ZoneRoom } from '../zones/curves.ts';
import { ownersOf, seedsOf } from '../zones/propose.ts';
import { ruleColoursOf, type ZoneColours } from '../zones/zone.ts';
import { differencesOfCells, labsOf } from './closest.ts';
import { NEVER, zoneCosts, type SampleGroups } from './zone-groups.ts';
import type { ZonedArtwork, ZoneLimits, ZonesRule } from './zones.ts';

/** Zones fitted to a stack. */
export interface FittedZones {
  /** The zones' new colours, lowest zone first. */
  readonly zones: readonly ZoneColours[];
  /** Where each stood before. */
  readonly order: readonly number[];
}

/** Rounds in which colours move between zones; later ones move next to nothing. */
const FIT_ROUNDS = 4;

/** Fewer colours than this are too few to move between zones: the picture is asked for more. */
const FEW_COLOURS = 24;

/**
 * Fits zones to a stack: colours move to the zone whose curve serves them best, and curves and order follow, round by round.
 * What was painted is left out of account, and no zone loses its last colour.
 * @param reorder whether zones may change places; otherwise the given order stays
 */
export function fitZones(
  artwork: ZonedArtwork,
  rule: ZonesRule,
  limits: ZoneLimits,
  reorder: boolean,
): FittedZones {
  const cells = artwork.cells();
  const { zones } = rule;
  const count = zones.length;
  const scale = heightScale(limits.layers, limits.leastLayers, limits.tops);
  const differences = differencesOfCells(cells, rule.colours, scale.least);
  const lightness = labsOf(cells.colour);
  const bins = Uint8Array.from(cells.count, (_, n) => binOfLightness(lightness[3 * n] as number));
  const runs = zones.map(({ reversed }) => ({ reversed, span: null }));
  const room: ZoneRoom = { least: scale.least, layers: limits.layers, shared: rule.shared };
  const { colours, zoneOf } = coloursToMove(cells, zones);
  const seedOf = ownersOf(cells, colours);
  const stride = limits.layers + 1;
  let order: readonly number[] = zones.map((_, zone) => zone);
  let best = { zoneOf: [...zoneOf], order, price: Infinity };
  for (let round = 0; round <= FIT_ROUNDS; round += 1) {
    const groups: Pick<SampleGroups, 'zone' | 'cell' | 'count'> = {
      zone: Uint8Array.from(seedOf, (seed) => zoneOf[seed] ?? 0),
      cell: Uint32Array.from(seedOf, (_, n) => n),
      count: cells.count,
    };
    const costs = zoneCosts(groups, bins, differences, count, limits.layers);
    if (reorder) ({ order } = cheapestOrder(costs, runs, room));
    const { curves, price } = solveCurves(costs, runs, order, room);
    if (price >= best.price) break;
    best = { zoneOf: [...zoneOf], order, price };
    const prices = new Float64Array(colours.length * count);
    seedOf.forEach((seed, n) => {
      const weight = cells.count[n] as number;
      curves.forEach((curve, zone) => {
        const height = curve?.[bins[n] as number];
        const cost = height === undefined ? NEVER : (differences[n * stride + height] as number);
        const at = seed * count + zone;
        prices[at] = (prices[at] as number) + weight * cost;
      });
    });
    colours.forEach((_, seed) => {
      const own = zoneOf[seed] ?? 0;
      if (zoneOf.filter((zone) => zone === own).length < 2) return;
      let cheapest = own;
      for (let zone = 0; zone < count; zone += 1)
        if ((prices[seed * count + zone] as number) < (prices[seed * count + cheapest] as number))
          cheapest = zone;
      zoneOf[seed] = cheapest;
    });
  }
  return {
    zones: best.order.map((zone) => ({
      colours: colours.filter((_, seed) => best.zoneOf[seed] === zone),
    })),
    order: best.order,
  };
}

/** The colours of all zones, and the zone of each; where they are few, more of the picture's own, each with the zone that it is in. */
function coloursToMove(
  cells: ColourCells,
  zones: readonly ZoneColours[],
): { readonly colours: readonly string[]; readonly zoneOf: number[] } {
  const colours = zones.flatMap((zone) => zone.colours);
  const zoneOf = zones.flatMap((zone, at) => zone.colours.map(() => at));
  if (colours.length >= FEW_COLOURS || colours.length === 0) return { colours, zoneOf };
  const more = seedsOf(cells).map(({ hex }) => hex);
  const nearest = ownersOf({ colour: ruleColoursOf(more) }, colours);
  return { colours: more, zoneOf: Array.from(nearest, (own) => zoneOf[own] ?? 0) };
}
