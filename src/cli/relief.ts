import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { measureBrightness } from '#core/artwork/brightness.ts';
import { gatherColours, type ColourCells } from '#core/artwork/colour-cells.ts';
import { sampleArtwork } from '#core/artwork/sample-artwork.ts';
import { digestBytes } from '#core/base/stamp.ts';
import { swapSheetText } from '#core/formats/swap-sheet-text.ts';
import { swapsJson } from '#core/formats/swaps-json.ts';
import { EXPORT_FORMATS, exportFile, type ExportFormat } from '#core/formats/export-files.ts';
import { meanColourError } from '#core/heights/colour-error.ts';
import { countEdges, countHeights } from '#core/heights/height-map.ts';
import { coloursOfRamp } from '#core/heights/closest.ts';
import { bandTops, flatOfPicture } from '#core/heights/flat.ts';
import {
  HEIGHT_RULES,
  heightsByRule,
  type HeightRule,
  type HeightRuleKind,
} from '#core/heights/height-rules.ts';
import { LEAST_LAYERS, PLAIN_TONE } from '#core/heights/tone.ts';
import type { Ramp } from '#core/optics/ramp.ts';
import { smoothMmOf } from '#core/relief/relief-mesh.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import {
  GREATEST_DETAIL_MM,
  GREATEST_SIDE_MM,
  LEAST_DETAIL_MM,
  LEAST_SIDE_MM,
  MOST_SAMPLES,
  planSamples,
} from '#core/relief/sampling.ts';
import { stampOfExport } from '#core/schedule/export-state.ts';
import { makeSwapSheet } from '#core/schedule/swap-sheet.ts';
import { bandEnds, totalLayers, type Stack } from '#core/stack/stack.ts';
import { evenTops } from '#core/stack/layer-grid.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import { PNG_ENCODERS } from '../platform/encode-pictures.ts';
import { decodePicture } from '../platform/node/decode-picture.ts';
import { describePictureFault } from '../platform/fault-words.ts';
import { BadInput, numberOption, required } from '../platform/bad-input.ts';
import { readInput, readStackAndRack } from './input.ts';

/** What is always written; `--all-formats` writes the others too. */
const USUAL_FORMATS: readonly ExportFormat[] = ['stl', '3mf', 'print', 'heights'];

const round = (value: number, digits: number): number => Number(value.toFixed(digits));

/** The rule that was asked for, with what it takes from stack and picture. */
function ruleOf(
  kind: HeightRuleKind,
  {
    stack,
    ramp,
    cells,
  }: { readonly stack: Stack; readonly ramp: Ramp; readonly cells: ColourCells },
  calming: Pick<HeightRule, 'calm' | 'smallestMm'>,
): HeightRule {
  switch (kind) {
    case 'tone':
      return { kind, tone: PLAIN_TONE, ...calming };
    case 'closest':
      return { kind, colours: coloursOfRamp(ramp), ...calming };
    default: {
      const tops = bandTops(bandEnds(stack.bands), ramp);
      return { kind, flat: flatOfPicture(cells, tops.length, tops), ...calming };
    }
  }
}

/** `relief ...`: a picture to shape, sheet and pictures of the plan. Prints counts, mm, grams and the mean error. */
export async function runRelief(args: string[]): Promise<object> {
  const { values } = parseArgs({
    args,
    options: {
      image: { type: 'string' },
      rack: { type: 'string' },
      stack: { type: 'string' },
      'width-mm': { type: 'string' },
      'detail-mm': { type: 'string' },
      rule: { type: 'string' },
      'least-layers': { type: 'string' },
      calm: { type: 'string' },
      'nozzle-mm': { type: 'string' },
      'all-formats': { type: 'boolean' },
      smooth: { type: 'boolean' },
      out: { type: 'string' },
    },
  });
  const imagePath = required(values.image, 'image');
  const out = required(values.out, 'out');
  const kind = HEIGHT_RULES.find((known) => known === (values.rule ?? 'tone'));
  if (!kind)
    throw new BadInput(`--rule is "${values.rule ?? ''}". Give one of ${HEIGHT_RULES.join(', ')}.`);
  if (values.smooth === true && kind !== 'flat')
    throw new BadInput('--smooth is for flat areas alone. Add --rule flat, or leave it out.');
  const calm = numberOption(values.calm, 'calm', 0, 0, 1);
  const nozzleMm = numberOption(values['nozzle-mm'], 'nozzle-mm', 0.4, 0, 10);
  const widthMm = numberOption(
    values['width-mm'],
    'width-mm',
    100,
    LEAST_SIDE_MM,
    GREATEST_SIDE_MM,
  );
  const detailMm = numberOption(
    values['detail-mm'],
    'detail-mm',
    0.2,
    LEAST_DETAIL_MM,
    GREATEST_DETAIL_MM,
  );
  const leastLayers = numberOption(values['least-layers'], 'least-layers', LEAST_LAYERS, 1, 250);
  const { stack, filaments } = await readStackAndRack(
    required(values.rack, 'rack'),
    required(values.stack, 'stack'),
  );
  const bytes = await readInput(imagePath);
  const picture = await decodePicture(bytes);
  if (!picture.ok) throw new BadInput(`${imagePath}: ${describePictureFault(picture.fault)}`);

  const { width, height } = picture.value;
  const samples = planSamples(widthMm, (widthMm * height) / width, detailMm);
  if (samples.columns * samples.rows > MOST_SAMPLES)
    throw new BadInput(
      `${samples.columns} x ${samples.rows} samples are more than ${MOST_SAMPLES}. Make --detail-mm larger or --width-mm smaller.`,
    );
  const sampled = sampleArtwork(picture.value, samples.columns, samples.rows);
  const ramp = rampOfStack(stack, filaments);
  const cells = gatherColours(sampled);
  // Without calm every sample gets just what the rule says; islands go with calm.
  const calming = { calm, smallestMm: calm > 0 ? nozzleMm : 0 };
  const rule = ruleOf(kind, { stack, ramp, cells }, calming);
  const { heights, raisedSamples } = partDiagonals(
    heightsByRule({ brightness: measureBrightness(sampled), cells: () => cells }, rule, {
      layers: totalLayers(stack.bands),
      leastLayers,
      tops: evenTops(stack.grid, totalLayers(stack.bands)),
      detailMm,
    }),
  );
  const counts = countHeights(heights);
  const printed = heights.data.length - (counts[0] ?? 0);
  if (printed === 0)
    throw new BadInput(
      `${imagePath}: every sample is transparent, so there is nothing to print. Use another picture.`,
    );
  const smoothMm = values.smooth === true ? smoothMmOf(nozzleMm) : undefined;
  const stamp = stampOfExport({
    artworkDigest: digestBytes(bytes),
    rule,
    leastLayers,
    samples,
    smoothMm,
    stack,
    filaments,
  });
  const title = imagePath.split(/[\\/]/).at(-1) ?? imagePath;
  const sheet = makeSwapSheet({
    title,
    stamp,
    stack,
    filaments,
    counts,
    edges: countEdges(heights),
    detailMm,
    widthMm: samples.widthMm,
    heightMm: samples.heightMm,
  });
  const source = { heights, stack, filaments, detailMm, smoothMm, stamp, title };
  const written = (values['all-formats'] === true ? EXPORT_FORMATS : USUAL_FORMATS).map((format) =>
    exportFile(format, source, PNG_ENCODERS),
  );
  const files: Record<string, readonly Uint8Array[] | string> = {
    ...Object.fromEntries(written.map(({ suffix, pieces }) => [suffix, pieces])),
    'swaps.json': swapsJson(sheet),
    'swap-sheet.txt': swapSheetText(sheet),
  };
  try {
    await mkdir(out, { recursive: true });
    for (const [name, content] of Object.entries(files)) await writeFile(join(out, name), content);
  } catch (error) {
    throw new BadInput(
      `${out} cannot be written (${(error as NodeJS.ErrnoException).code ?? 'unknown error'}).`,
    );
  }
  const sum = (values_: readonly number[]): number => values_.reduce((a, b) => a + b, 0);
  return {
    stamp,
    columns: samples.columns,
    rows: samples.rows,
    printedSamples: printed,
    raisedSamples,
    widthMm: samples.widthMm,
    heightMm: samples.heightMm,
    thicknessMm: sheet.thicknessMm,
    layers: sheet.layers,
    swaps: sheet.swaps.length,
    triangles: written[0]?.triangles ?? 0,
    volumeMm3: round(sum(sheet.bands.map(({ volumeMm3 }) => volumeMm3)), 3),
    grams: round(sum(sheet.bands.map(({ grams }) => grams)), 3),
    filaments: sheet.bands.map(({ letter, filamentId, grams, metres }) => ({
      band: letter,
      filament: filamentId,
      grams: round(grams, 3),
      metres: round(metres, 4),
    })),
    meanDeltaE: round(meanColourError(sampled, heights, ramp) ?? 0, 4),
    files: Object.keys(files),
  };
}
