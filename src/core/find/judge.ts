import { opticsOf } from '../stack/filament.ts';
import { cellsAsClusters, cellWeights, clusterByZone, mergeCells } from './clusters.ts';
import { StackEvaluator, type Draft } from './evaluator.ts';
import type { Limits } from './limits.ts';
import { TOLERANCE, type FindRequest, type FoundStack } from './request.ts';
import { draftOf, type Found, type Pricer, type ZoneMoves } from './search.ts';
import { TONE_LIGHTNESS } from './tone-curve.ts';

/** Colours that the search looks at first, and those it decides by. */
const COARSE = 64;
const FINE = 256;

/** Everything that stacks are priced with. */
export class Judge {
  readonly coarse: StackEvaluator;
  readonly fine: StackEvaluator;
  /** Tells fine prices as the request weighs them. */
  readonly close: Pricer;
  /** Is there more to a price than the mean over all colours? */
  readonly weighted: boolean;
  private readonly final: StackEvaluator;
  /** The mean CIEDE2000 over the colours that `off` has. */
  private readonly own: StackEvaluator;
  private readonly off: readonly [StackEvaluator, StackEvaluator];
  private readonly room: number;
  private readonly all: readonly StackEvaluator[];
  private order: readonly number[];
  private readonly known = new Map<string, FoundStack>();

  constructor(
    private readonly request: FindRequest,
    limits: Limits,
  ) {
    this.room = limits.mostBands + 2;
    const { filaments, grid, rule, rare, leastLayers, sturdy = false, care = 1 } = request;
    const lean = rule === 'closest' && (request.lean?.price ?? 0) > 0 ? request.lean : undefined;
    const zones = rule === 'zones' ? request.zones : undefined;
    const cells = mergeCells(request.cells);
    const weights = cellWeights(cells.count, rare, cells.importance);
    this.weighted =
      sturdy ||
      rare > 0 ||
      care !== 1 ||
      lean !== undefined ||
      (zones !== undefined && zones.price !== null) ||
      isUneven(request.cells.importance);
    // Where heights go by lightness alone, only that keeps colours apart.
    const byLightness = rule === 'tone' || zones?.price === null;
    const scale = byLightness ? TONE_LIGHTNESS : 1;
    const told = { rule, leastLayers, mostBands: limits.mostBands + 2, lean, zones };
    const options = { ...told, care };
    const optics = filaments.map(opticsOf);
    const fine = clusterByZone(cells, weights, FINE, scale);
    const few = clusterByZone(cells, weights, COARSE, scale);
    this.coarse = new StackEvaluator(few, optics, grid, options);
    this.fine = new StackEvaluator(fine, optics, grid, options);
    const pixels = cellWeights(cells.count);
    const colours =
      rule === 'closest'
        ? cellsAsClusters(cells, pixels)
        : clusterByZone(cells, pixels, FINE, scale);
    const single = { ...told, single: true };
    this.final = new StackEvaluator(colours, optics, grid, single);
    const offBy = (factor: number, how: typeof single): StackEvaluator =>
      new StackEvaluator(
        fine,
        filaments.map((filament) =>
          opticsOf({ ...filament, transmissionMm: filament.transmissionMm * factor }),
        ),
        grid,
        how,
      );
    this.off = [offBy(1 - TOLERANCE, single), offBy(1 + TOLERANCE, single)];
    this.own = new StackEvaluator(fine, optics, grid, single);
    const cared = { ...single, care };
    const all = sturdy
      ? [this.fine, offBy(1 - TOLERANCE, cared), offBy(1 + TOLERANCE, cared)]
      : [this.fine];
    this.all = [...new Set([this.coarse, this.fine, this.final, this.own, ...this.off, ...all])];
    this.order = zones?.zones.map((_, own) => own) ?? [];
    this.close = sturdy
      ? { price: (draft) => all.reduce((sum, one) => sum + one.price(draft), 0) / all.length }
      : this.fine;
  }

  /** Mean over all colours. */
  exactly(found: Found): number {
    return (
      this.known.get(keyOf(found))?.meanDeltaE ?? errorOf(this.final, draftOf(found, this.room))
    );
  }

  /** A found stack with its true price. */
  judge(found: Found): FoundStack {
    const key = keyOf(found);
    const known = this.known.get(key);
    if (known) return known;
    const draft = draftOf(found, this.room);
    const zoneIds = this.stand(draft);
    const meanDeltaE = errorOf(this.final, draft);
    // Differences, so that both have the same clusters under them.
    const own = errorOf(this.own, draft);
    const [less, more] = this.off;
    const stack = {
      bands: found.filament.map((filament, i) => ({
        filamentId: this.request.filaments[filament]?.id ?? '',
        layers: found.layers[i] ?? 1,
      })),
      mostSwaps: found.filament.length - 1,
      meanDeltaE,
      price: this.weighted ? this.close.price(draft) : meanDeltaE,
      ...(zoneIds ? { zoneIds } : {}),
      whenOff: [
        meanDeltaE + errorOf(less, draft) - own,
        meanDeltaE + errorOf(more, draft) - own,
      ] as const,
    };
    this.known.set(key, stack);
    return stack;
  }

  /**
   * Puts zones in the order in which a stack serves them best; all prices that follow are by it.
   * @returns their ids, lowest first; undefined where the rule is not by zones
   */
  stand(draft: Draft): readonly string[] | undefined {
    const { zones, rule } = this.request;
    if (!zones || rule !== 'zones') return undefined;
    if (zones.anyOrder) {
      this.fine.price(draft);
      const order = this.fine.cheapestOrder();
      if (order) {
        this.order = order;
        for (const one of this.all) one.stand(order);
      }
    }
    return this.order.map((zone) => zones.zones[zone]?.id ?? '');
  }

  /** What lets zones change places in a search; undefined where their order is given. */
  moves(): ZoneMoves | undefined {
    if (this.request.rule !== 'zones' || this.request.zones?.anyOrder !== true) return undefined;
    return {
      swap: (random) => this.coarse.swapZones(random),
      shuffle: (random) => {
        this.order.forEach(() => this.coarse.swapZones(random));
      },
      stand: (draft) => {
        this.stand(draft);
      },
    };
  }

  looked(): number {
    return this.coarse.evaluated + this.fine.evaluated;
  }
}

/** Does anything matter more than something else? */
function isUneven(importance: FindRequest['cells']['importance']): boolean {
  return importance !== undefined && Array.from(importance).some((own) => own !== importance[0]);
}

/** The mean CIEDE2000 of a stack, whatever its price weighs besides. */
function errorOf(evaluator: StackEvaluator, draft: Draft): number {
  evaluator.price(draft);
  return evaluator.error;
}

function keyOf({ filament, layers }: Found): string {
  return `${filament.join()} ${layers.join()}`;
}
