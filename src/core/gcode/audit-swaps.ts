import { finding, type Finding } from './finding.ts';
import {
  bottomFilament,
  layerOfSwap,
  plannedObjects,
  type PlannedObject,
  type PlannedSwap,
  type PrintPlan,
} from './print-plan.ts';
import type { GcodeLayer, GcodeReport, PlacedEvent } from './report.ts';

/** How far from its layer a pause is still taken for a swap's. */
const FARTHEST_LAYERS = 4;

interface Wanted {
  readonly swap: PlannedSwap | null;
  readonly layer: GcodeLayer;
  readonly stopMm: number;
}

/**
 * Compares pauses with swaps, piece by piece: each pause belongs to the nearest swap within four layers that has none yet. In a
 * file for several tools a tool change counts as a swap where the printer is known to change filament so.
 */
export function auditSwaps(report: GcodeReport, plan: PrintPlan): Finding[] {
  const findings: Finding[] = [];
  const objects = plannedObjects(report, plan);
  const byTool = plan.pauses?.some((command) => /^T\d/i.test(command)) ?? false;
  const all = report.events.filter(
    ({ kind, layer, tool, inUse, inside }) =>
      layer > 0 &&
      (kind === 'pause' || (byTool && kind === 'tool' && tool !== inUse && (layer > 1 || inside))),
  );
  const { missing, stops } = withoutFace(all, objects, plan);
  findings.push(...missing);
  let loaded: string | undefined;
  objects.forEach((object, n) => {
    const { layers } = object;
    const at = objects.length > 1 ? { object: n + 1 } : {};
    const swaps = object.inlay > 0 ? [] : plan.swaps;
    const wanted: Wanted[] = swaps.flatMap((swap): Wanted[] => {
      const layer = layerOfSwap(layers, swap);
      return layer ? [{ swap, layer, stopMm: swap.stopAfterMm }] : [];
    });
    const bottom = layers[0];
    // What an object begins with has to be put in after what the one before ended with.
    const begins = bottomFilament(object, plan);
    if (n > 0 && bottom && begins !== undefined && begins !== loaded)
      wanted.unshift({ swap: null, layer: bottom, stopMm: 0 });
    loaded = swaps.at(-1)?.to ?? begins;
    for (const swap of swaps)
      if (!layerOfSwap(layers, swap))
        findings.push(
          finding('swap-missing', 'wrong', {
            ...at,
            swap: swap.swap,
            expected: swap.stopAfterMm,
            found: null,
            line: layers.at(-1)?.lastLine ?? null,
            layer: layers.at(-1)?.layer ?? null,
          }),
        );
    const own = stops.filter(({ layer }) => layers.some((one) => one.layer === layer));
    findings.push(...compare(wanted, own, layers).map((one) => ({ ...one, ...at })));
  });
  return findings;
}

/**
 * Stops without those of a face whose filaments are changed within its layers, and the layers that have too few of them. A slicing
 * program may begin each layer with the same filament: then one more stands between the layers.
 */
function withoutFace(
  stops: readonly PlacedEvent[],
  objects: readonly PlannedObject[],
  { flush, swaps }: PrintPlan,
): { readonly missing: readonly Finding[]; readonly stops: readonly PlacedEvent[] } {
  if (flush?.print !== 'within') return { missing: [], stops };
  const ofFace = new Set<PlacedEvent>();
  const missing: Finding[] = [];
  for (const { layers } of objects)
    for (const layer of layers.slice(0, flush.layers + 1)) {
      const own = stops.filter((stop) => stop.layer === layer.layer);
      if (layer.layerOfObject > flush.layers) {
        // The rest goes on above, unless a band begins there.
        if (!swaps.some(({ layer: at }) => at === layer.layerOfObject))
          for (const stop of own) if (!stop.inside) ofFace.add(stop);
        continue;
      }
      const inside = own.filter((stop) => stop.inside).length;
      if (inside < flush.filaments.length)
        missing.push(
          finding('face-missing', 'wrong', {
            expected: flush.filaments.length,
            found: inside,
            line: layer.place.line,
            layer: layer.layer,
          }),
        );
      // The first of a further piece is what it begins with.
      for (const stop of own) if (stop.inside || layer.layerOfObject > 1) ofFace.add(stop);
    }
  return { missing, stops: stops.filter((stop) => !ofFace.has(stop)) };
}

function compare(
  wanted: readonly Wanted[],
  stops: readonly PlacedEvent[],
  layers: readonly GcodeLayer[],
): Finding[] {
  const findings: Finding[] = [];
  const pairs = wanted
    .flatMap((want) =>
      stops.map((stop) => ({ want, stop, far: Math.abs(stop.layer - want.layer.layer) })),
    )
    .filter(({ far }) => far <= FARTHEST_LAYERS)
    // Between two stops in the wanted layer the one that stands between layers is right.
    .sort((a, b) => a.far - b.far || Number(a.stop.inside) - Number(b.stop.inside));
  const met = new Map<Wanted, PlacedEvent>();
  const taken = new Set<PlacedEvent>();
  for (const { want, stop } of pairs) {
    if (met.has(want) || taken.has(stop)) continue;
    met.set(want, stop);
    taken.add(stop);
  }
  const topBelow = (number: number): number => {
    const place = layers.findIndex(({ layer }) => layer === number);
    return place > 0 ? (layers[place - 1]?.topMm ?? 0) : 0;
  };
  for (const want of wanted) {
    const stop = met.get(want);
    const swap = want.swap ? { swap: want.swap.swap } : {};
    const place = { line: stop?.line ?? want.layer.place.line, layer: want.layer.layer };
    if (!stop)
      findings.push(
        want.swap
          ? finding('swap-missing', 'wrong', { ...swap, ...place, expected: want.stopMm })
          : finding('one-by-one', 'wrong', { ...place, expected: 'the filament it begins with' }),
      );
    else if (stop.layer !== want.layer.layer)
      findings.push(
        finding(stop.layer < want.layer.layer ? 'swap-early' : 'swap-late', 'wrong', {
          ...swap,
          expected: want.stopMm,
          found: topBelow(stop.layer),
          line: stop.line,
          layer: stop.layer,
        }),
      );
    else if (stop.inside)
      findings.push(
        finding('swap-inside', 'wrong', {
          ...swap,
          ...place,
          expected: want.stopMm,
          found: stop.command,
        }),
      );
  }
  for (const stop of stops)
    if (!taken.has(stop)) {
      const twice = [...met].some(([, one]) => one.layer === stop.layer);
      findings.push(
        finding(
          twice ? 'swap-doubled' : 'swap-extra',
          stop.layer === layers[0]?.layer && !stop.inside ? 'look' : 'wrong',
          {
            found: topBelow(stop.layer),
            line: stop.line,
            layer: stop.layer,
          },
        ),
      );
    }
  return findings;
}
