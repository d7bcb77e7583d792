/**
 * How good heights are as a picture and as a relief: part of `npm run bench`. Every rule gets a stack that was searched for it.
 * Writes docs/bench/heights.md.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { sampleArtwork } from '../src/core/artwork/sample-artwork.ts';
import { brightnessHistogram, measureBrightness } from '../src/core/artwork/brightness.ts';
import { gatherColours, type ColourCells } from '../src/core/artwork/colour-cells.ts';
import type { BrightnessMap } from '../src/core/artwork/brightness.ts';
import type { RgbaRaster } from '../src/core/base/raster.ts';
import { firstRequest } from '../src/core/find/first-look.ts';
import { findStack } from '../src/core/find/find-stack.ts';
import type { FindRequest, FoundStack } from '../src/core/find/request.ts';
import { agreed, BEFORE_FITTING, MOST_TURNS, seedsOf } from '../src/core/find/turns.ts';
import { coloursOfRamp } from '../src/core/heights/closest.ts';
import { MOST_LEAN } from '../src/core/stack/lean.ts';
import { differenceOf } from '../src/core/heights/difference.ts';
import { heightsByRule, type HeightRule } from '../src/core/heights/height-rules.ts';
import { cellsOfZones } from '../src/core/heights/zones.ts';
import { fitZones } from '../src/core/heights/fit-zones.ts';
import { proposeZones } from '../src/core/zones/propose.ts';
import { USUAL_ZONES } from '../src/core/zones/zone.ts';
import { naturalness } from '../src/core/heights/natural.ts';
import { fitTone, placesOfTone } from '../src/core/heights/tone.ts';
import { rampOfStack } from '../src/core/stack/stack-ramp.ts';
import { decodePicture } from '../src/platform/node/decode-picture.ts';
import { FIRST_LEAN, firstStack } from '../src/state/new-project.ts';
import { HEIGHT_PICTURES, LARGE, RACK_24, requestOf } from './find-bench/cases.ts';

const LEANS = [0, 6, 15, 30];
const SAMPLES = 250_000;
const LEAST = 3;
/** The work of the quick search. */
const SECONDS = 1;

/** What the app looks at for a first stack; see `state/first-stack.ts`. */
const FIRST_SAMPLES = 60_000;

interface Artwork {
  readonly samples: RgbaRaster;
  readonly brightness: BrightnessMap;
  readonly cells: ColourCells;
  /** Of fewer samples, for a first stack. */
  readonly few: ColourCells;
}

async function load(path: string): Promise<Artwork> {
  const decoded = await decodePicture(readFileSync(new URL(`../${path}`, import.meta.url)));
  if (!decoded.ok) throw new Error(`${path}: ${decoded.fault.code}`);
  const { value } = decoded;
  const sampled = (count: number): RgbaRaster => {
    const factor = Math.min(1, Math.sqrt(count / (value.width * value.height)));
    return sampleArtwork(
      value,
      Math.round(value.width * factor),
      Math.round(value.height * factor),
    );
  };
  const samples = sampled(SAMPLES);
  return {
    samples,
    brightness: measureBrightness(samples),
    cells: gatherColours(samples),
    few: gatherColours(sampled(FIRST_SAMPLES)),
  };
}

const table = Object.fromEntries(RACK_24.map((filament) => [filament.id, filament]));

/** Mean colour error, error of the rarest 5 %, and how natural the relief is. */
function judge(
  artwork: Artwork,
  { bands }: Pick<FoundStack, 'bands'>,
  rule: (colours: Float32Array) => HeightRule,
) {
  const { grid } = requestOf(artwork.cells, LARGE);
  const ramp = rampOfStack({ grid, bands }, table);
  const heights = heightsByRule(
    { brightness: artwork.brightness, cells: () => artwork.cells },
    rule(coloursOfRamp(ramp)),
    { layers: ramp.length, leastLayers: LEAST, sampleMm: 0.2 },
  );
  const difference = differenceOf(artwork.samples, heights, ramp, 0.2);
  return {
    mean: difference?.mean ?? Number.NaN,
    rho: naturalness(artwork.brightness, heights) ?? Number.NaN,
  };
}

/** How long a look at a stack took in the search that found one, ms. */
const paces = new WeakMap<FoundStack, number>();

/** What the browser would find; see `state/find-session.ts`. */
function search(artwork: Artwork, over: Partial<FindRequest>): FoundStack {
  const found: FoundStack[] = [];
  const began = performance.now();
  let looked = 0;
  for (let turn = 0; turn < (over.start ? 1 : MOST_TURNS); turn += 1) {
    const own = seedsOf(1, turn).flatMap((seed) => {
      const one = findStack(requestOf(artwork.cells, LARGE, { seconds: SECONDS, seed, ...over }));
      looked += one.ok ? one.value.looked : 0;
      return one.ok ? one.value.curve.slice(-1) : [];
    });
    found.push(...own);
    if (agreed(own.map(({ price }) => price))) break;
  }
  const [best] = found.sort((a, b) => a.price - b.price);
  if (!best) throw new Error('nothing found');
  paces.set(best, (performance.now() - began) / looked);
  return best;
}

/** What is made, and the median of what it takes three times: a worker that makes it has made others before. */
function timed<Made>(make: () => Made): { readonly made: Made; readonly ms: number } {
  const times: number[] = [];
  let made = make();
  for (let n = 0; n < 3; n += 1) {
    const began = performance.now();
    made = make();
    times.push(performance.now() - began);
  }
  return { made, ms: times.sort((a, b) => a - b)[1] ?? Number.NaN };
}

/** What calm costs: how much the mean error rises for each layer that the mean step between neighbours falls by. */
function calmCosts(artwork: Artwork, { bands }: FoundStack) {
  const ramp = rampOfStack({ grid: requestOf(artwork.cells, LARGE).grid, bands }, table);
  const limits = { layers: ramp.length, leastLayers: LEAST, sampleMm: 0.2 };
  const told = { brightness: artwork.brightness, cells: () => artwork.cells };
  const made = (calm: number, quick: boolean) => {
    const rule = { kind: 'closest' as const, colours: coloursOfRamp(ramp), calm, smallestMm: 0 };
    const { ms, made: heights } = timed(() => heightsByRule(told, { ...rule, quick }, limits));
    const { width, data } = heights;
    let sum = 0;
    let pairs = 0;
    for (let i = 1; i < data.length; i += 1) {
      if (i % width === 0 || data[i] === 0 || data[i - 1] === 0) continue;
      sum += Math.abs((data[i] ?? 0) - (data[i - 1] ?? 0));
      pairs += 1;
    }
    const error = differenceOf(artwork.samples, heights, ramp, 0.2)?.mean ?? Number.NaN;
    return { error, step: sum / Math.max(1, pairs), ms };
  };
  const plain = made(0, false);
  const cost = (calmed: ReturnType<typeof made>): number =>
    (calmed.error - plain.error) / Math.max(1e-6, plain.step - calmed.step);
  const lines = made(0.5, false);
  const quick = made(0.5, true);
  return {
    quick: cost(quick),
    lines: cost(lines),
    quickMs: quick.ms,
    ms: lines.ms,
    samples: artwork.samples.width * artwork.samples.height,
  };
}

const mean = (values: readonly number[]): number =>
  values.reduce((sum, one) => sum + one, 0) / values.length;
const calming = { calm: 0, smallestMm: 0 };
const rows: string[] = [];
const sums = new Map<number, { x: number[]; rho: number[] }>();
const firsts: { share: number; ms: number; rho: number }[] = [];
for (const path of HEIGHT_PICTURES) {
  const artwork = await load(path);
  const tone = fitTone(brightnessHistogram(artwork.brightness));
  const cellsOfRow: string[] = [];
  let closest = 0;
  for (const price of LEANS) {
    const lean = { price, places: placesOfTone(tone) };
    const stack = search(artwork, price > 0 ? { lean } : {});
    const told = judge(artwork, stack, (colours) => ({
      kind: 'closest',
      colours,
      ...(price > 0 ? { lean: { price, tone } } : {}),
      ...calming,
    }));
    if (price === 0) closest = told.mean;
    const sum = sums.get(price) ?? { x: [], rho: [] };
    sum.x.push(told.mean / closest);
    sum.rho.push(told.rho);
    sums.set(price, sum);
    cellsOfRow.push(`${told.mean.toFixed(2)} / ${told.rho.toFixed(2)}`);
  }
  const ladder = firstStack(RACK_24).map(([filamentId, layers]) => ({ filamentId, layers }));
  const grey = judge(artwork, { bands: ladder }, () => ({ kind: 'tone', tone, ...calming }));
  const { ms, made: first } = timed(() =>
    findStack(
      firstRequest(
        artwork.few,
        RACK_24,
        { grid: requestOf(artwork.cells, LARGE).grid, leastLayers: LEAST },
        { price: FIRST_LEAN, places: placesOfTone(tone) },
        undefined,
      ),
    ),
  );
  const bands = first.ok ? (first.value.curve.at(-1)?.bands ?? ladder) : ladder;
  const own = judge(artwork, { bands }, (colours) => ({
    kind: 'closest',
    colours,
    lean: { price: FIRST_LEAN, tone },
    ...calming,
  }));
  firsts.push({ share: own.mean / grey.mean, ms, rho: own.rho });
  rows.push(
    `| ${path.replace(/^.*\//, '')} | ${cellsOfRow.join(' | ')} | ${grey.mean.toFixed(2)} | ${own.mean.toFixed(2)} / ${own.rho.toFixed(2)}, ${ms.toFixed(0)} ms |`,
  );
  process.stdout.write(`${rows.at(-1) ?? ''}\n`);
}
const zoned = [
  ['3 by colour, walls, apart', 0, null],
  ['walls, sharing 3 layers', 3, null],
  ['walls, sharing freely', null, null],
  ['sharing 3, lean 6', 3, 6],
  ['sharing 3, lean 15', 3, 15],
] as const;
const ZONE_ROWS = [
  ...zoned.map(([name]) => name),
  'walls, sharing 3 layers, then fitted to that stack',
  'the same with fitting half-way, as *Find* does it where colours may move',
];
const zoneSums = ZONE_ROWS.map(() => ({ x: [] as number[], rho: [] as number[] }));
const strangers: number[] = [];
/** How long a look for zones takes, times one for closest blend. */
const zonedPaces = zoned.map(() => [] as number[]);
const calms: ReturnType<typeof calmCosts>[] = [];
for (const path of HEIGHT_PICTURES) {
  const artwork = await load(path);
  const told = { brightness: artwork.brightness, cells: () => artwork.cells };
  const zones = proposeZones(artwork.cells, USUAL_ZONES).map((zone) => ({
    ...zone,
    reversed: false,
    span: null,
  }));
  const plain = search(artwork, {});
  const closest = judge(artwork, plain, (colours) => ({
    kind: 'closest',
    colours,
    ...calming,
  })).mean;
  type Parts = typeof zones;
  /** What is found for zones, the zones in the order that it has them in. */
  const searched = (
    parts: Parts,
    [shared, price]: readonly [number | null, number | null],
    over: Partial<FindRequest> = {},
  ) => {
    const stack = search(artwork, {
      cells: cellsOfZones(told, { zones: parts, painted: [] }),
      rule: 'zones',
      zones: {
        zones: parts.map(({ reversed }, own) => ({ id: String(own), reversed })),
        shared,
        price,
        anyOrder: true,
      },
      ...over,
    });
    return { stack, ordered: (stack.zoneIds ?? []).flatMap((id) => parts[Number(id)] ?? []) };
  };
  for (const [i, [, shared, price]] of zoned.entries()) {
    const ruleWith = (list: Parts) => (colours: Float32Array) => ({
      kind: 'zones' as const,
      zones: list,
      painted: [],
      shared,
      lean: price ?? MOST_LEAN,
      softMm: 0,
      colours,
      ...calming,
    });
    const note = (row: number, stack: FoundStack, list: Parts): void => {
      const own = judge(artwork, stack, ruleWith(list));
      zoneSums.at(row)?.x.push(own.mean / closest);
      zoneSums.at(row)?.rho.push(own.rho);
    };
    const { stack, ordered } = searched(zones, [shared, price]);
    note(i, stack, ordered);
    zonedPaces[i]?.push((paces.get(stack) ?? Number.NaN) / (paces.get(plain) ?? Number.NaN));
    if (shared !== 3 || price !== null) continue;
    const fitted = (to: FoundStack, parts: Parts): Parts => {
      const { grid } = requestOf(artwork.cells, LARGE);
      const ramp = rampOfStack({ grid, bands: to.bands }, table);
      const limits = { layers: ramp.length, leastLayers: LEAST, sampleMm: 0.2 };
      return fitZones(told, ruleWith(parts)(coloursOfRamp(ramp)), limits, true).zones.map(
        (zone) => ({ ...zone, reversed: false, span: null }),
      );
    };
    note(-2, stack, fitted(stack, ordered));
    // With the same work in all; see `state/find-session.ts`.
    const half = searched(zones, [shared, price], { seconds: BEFORE_FITTING * SECONDS });
    const second = searched(fitted(half.stack, half.ordered), [shared, price], {
      seconds: (1 - BEFORE_FITTING) * SECONDS,
      start: half.stack.bands,
    });
    note(-1, second.stack, second.ordered);
    const before = judge(artwork, plain, ruleWith(ordered)).mean;
    strangers.push(judge(artwork, plain, ruleWith(fitted(plain, ordered))).mean / before);
  }
  calms.push(calmCosts(artwork, plain));
  process.stdout.write(`${path} in zones and calmed\n`);
}
/** Mean time for a quarter of a million samples, ms. */
const perQuarter = (of: (calm: ReturnType<typeof calmCosts>) => number): string =>
  mean(calms.map((calm) => (of(calm) * 250_000) / calm.samples)).toFixed(0);
const photos = (values: readonly number[]): readonly number[] =>
  values.filter((_, i) => HEIGHT_PICTURES[i]?.startsWith('demo/') === false);
/** The columns of all rows: mean, of the photos, worst, natural. */
const columns = ({ x, rho }: { readonly x: readonly number[]; readonly rho: readonly number[] }) =>
  `${mean(x).toFixed(3)} | ${mean(photos(x)).toFixed(3)} | ${Math.max(...x).toFixed(3)} | ${mean(rho).toFixed(2)} | ${mean(photos(rho)).toFixed(2)}`;
const zoneRows = zoneSums.map((sums, i) => {
  const name = ZONE_ROWS[i] ?? '';
  return `| ${name} | ${columns(sums)} | ${i === ZONE_ROWS.length - 1 ? 'x 1.22' : ''} |`;
});
const summary = LEANS.map(
  (price) =>
    `| ${price} | ${columns(sums.get(price) ?? { x: [], rho: [] })} | ${price === 6 ? 'x 1.05, 0.5' : price === 15 ? 'x 1.12, 0.75' : ''} |`,
);
writeFileSync(
  new URL('../docs/bench/heights.md', import.meta.url),
  `# Bench of heights

Made by \`npm run bench\`. ${RACK_24.length} filaments, 5 swaps, 30 layers; a stack searched for each rule as the browser does:
the better of two quick searches, or the best of four where these do not agree. ${HEIGHT_PICTURES.length} pictures: ten free photos and the demo art, which is drawn. Colour error is the mean CIEDE2000, *natural* the rank correlation of height with brightness; neither calmed.
Machine: ${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, Node ${process.versions.node}.

| lean | error, times that of lean 0, mean | of the photos | worst | natural, mean | of the photos | limit |
|---|---|---|---|---|---|---|
${summary.join('\n')}

A first stack of four filaments has ${mean(firsts.map(({ share }) => share)).toFixed(2)} of the error of the grey ladder (limit 0.55), ${Math.max(...firsts.map(({ share }) => share)).toFixed(2)} at worst, is natural by
${mean(firsts.map(({ rho }) => rho)).toFixed(2)}, and is found in ${Math.max(...firsts.map(({ ms }) => ms)).toFixed(0)} ms at most (limit 500 ms).

| zones | error, times that of closest blend, mean | of the photos | worst | natural, mean | of the photos | limit |
|---|---|---|---|---|---|---|
${zoneRows.join('\n')}

Fitted to a stack that was found for closest blend, the error of zones that share 3 layers is ${mean(strangers).toFixed(3)} of that before in the
mean (limit 0.9).

A look at a stack for zones takes ${mean(zonedPaces[1] ?? []).toFixed(2)} times as long as one for closest blend (walls sharing 3 layers, limit 1.2), with a lean
of 15 ${mean(zonedPaces[4] ?? []).toFixed(2)} times.

Calm at one half: a step between neighbours costs the mean of ${mean(calms.map(({ lines }) => lines)).toFixed(3)} CIEDE2000 by lines and of ${mean(calms.map(({ quick }) => quick)).toFixed(3)} sample by sample, told
as what the mean error rises by for each layer that the mean step between neighbours falls by. For 250,000 samples by lines ${perQuarter(({ ms }) => ms)} ms
(limit 330 ms), sample by sample ${perQuarter(({ quickMs }) => quickMs)} ms (limit 130 ms).

| picture | lean ${LEANS.join(' | lean ')} | ladder | first stack |
|---|${LEANS.map(() => '---').join('|')}|---|---|
${rows.join('\n')}
`,
);
