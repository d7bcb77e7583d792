/**
 * How long a rehearsal takes to open, and how fast it answers a scrub, as ratios to reading the file: part of `npm run bench`.
 * Writes docs/bench/rehearse.md.
 */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { measureBrightness } from '../src/core/artwork/brightness.ts';
import { sampleArtwork } from '../src/core/artwork/sample-artwork.ts';
import type { PrintPlan } from '../src/core/gcode/print-plan.ts';
import { readGcode } from '../src/core/gcode/read-gcode.ts';
import { bytesSource } from '../src/core/gcode/source.ts';
import { withoutIslands } from '../src/core/heights/islands.ts';
import { PLAIN_TONE, toneHeights } from '../src/core/heights/tone.ts';
import { USUAL_PRINTER } from '../src/core/printer/printer.ts';
import { LaidPicture } from '../src/core/rehearse/laid-picture.ts';
import { openRehearsal, tryFault, TRIALS } from '../src/core/rehearse/rehearsal.ts';
import { plannedLaid } from '../src/core/rehearse/score.ts';
import { partDiagonals } from '../src/core/relief/part-diagonals.ts';
import { opticsOf } from '../src/core/stack/filament.ts';
import { decodePicture } from '../src/platform/node/decode-picture.ts';
import { made, ownPrint } from '../tests/helpers/own-gcode.ts';
import { writeLargeFile } from './large-gcode.ts';

const ROUNDS = 5;
const SCRUBS = 60;
const { accelerationMmS2, cornerMmS } = USUAL_PRINTER;

async function timed(action: () => unknown): Promise<number> {
  const start = performance.now();
  await action();
  return performance.now() - start;
}

const middle = (values: readonly number[], share = 0.5): number =>
  [...values].sort((a, b) => a - b)[Math.floor(share * (values.length - 1))] ?? Number.NaN;

/** A relief of 750 x 500 samples as G-code of our own. */
async function ownFile(): Promise<{ bytes: Uint8Array; plan: PrintPlan }> {
  const path = new URL('../demo/art/dome-at-dusk.png', import.meta.url).pathname;
  const picture = await decodePicture(readFileSync(path));
  if (!picture.ok) throw new Error(picture.fault.code);
  const samples = sampleArtwork(picture.value, 750, 500);
  const tone = toneHeights(measureBrightness(samples), PLAIN_TONE, 24, 3);
  const { heights } = partDiagonals(withoutIslands(tone, 4));
  const print = ownPrint(heights, [6, 6, 6, 6], { sampleMm: 0.2 });
  const { text } = await made(print);
  return { bytes: new TextEncoder().encode(text), plan: print.plan };
}

function largeFile(): Uint8Array {
  const folder = mkdtempSync(join(tmpdir(), 'strata-bench-'));
  const path = join(folder, 'large.gcode');
  writeLargeFile(path, 20e6);
  const bytes = readFileSync(path);
  rmSync(folder, { recursive: true });
  return bytes;
}

const own = await ownFile();
const files = [
  ['relief of 750 x 500 samples, own G-code', own.bytes, own.plan],
  ['20 MB of sliced lines', largeFile(), { stamp: '', swaps: [] }],
] as const;
const rows: string[] = [];
for (const [name, bytes, plan] of files) {
  const source = bytesSource(bytes);
  const reads: number[] = [];
  const opens: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    reads.push(await timed(() => readGcode(source, { accelerationMmS2, cornerMmS })));
    opens.push(await timed(() => openRehearsal(source, plan, USUAL_PRINTER)));
  }
  rows.push(
    `| ${name} | ${(bytes.length / 1e6).toFixed(1)} | ${(middle(opens) / middle(reads)).toFixed(2)} | ${(middle(opens) / 1000).toFixed(2)} |`,
  );
}

const opened = await openRehearsal(bytesSource(own.bytes), own.plan, USUAL_PRINTER);
if (!opened.ok) throw new Error(opened.fault.code);
const { file } = opened.value;
const { print, planned } = file;
const colours = ['#17181b', '#9c4424', '#d8c090', '#f4efe0'];
const ids = [...new Set(planned)];
const optics = new Map(
  ids.map((id, n) => [
    id,
    opticsOf({ colour: colours[n] ?? '#808080', transmissionMm: 1, basis: { kind: 'hiding' } }),
  ]),
);
const picture = new LaidPicture(print, optics);
const laid = plannedLaid(print, planned);
const first = await timed(() => picture.at(laid, print.totalS));
const scrubs: number[] = [];
for (let n = 0; n < SCRUBS; n += 1) {
  const atS = print.totalS * ((n * 0.618) % 1);
  scrubs.push(await timed(() => picture.at(laid, atS)));
}
const trials = await timed(() => TRIALS.map((trial) => tryFault(file, trial)));
const open = await timed(() => openRehearsal(bytesSource(own.bytes), own.plan, USUAL_PRINTER));
const text = `# Bench of rehearsals

Made by \`npm run bench\`; medians of ${ROUNDS} runs in one process. *Reading* is the desk's own reading with acceleration.
Machine: ${cpus()[0]?.model ?? 'unknown'}, ${cpus().length} cores, Node ${process.versions.node}.

| file | MB | opening, times reading | seconds here (limit 2 for 20 MB) |
|---|---|---|---|
${rows.join('\n')}

On the relief of 750 x 500 samples, against opening it:

| what | times opening | ms here |
|---|---|---|
| the first whole picture | ${(first / open).toFixed(3)} | ${first.toFixed(0)} |
| a scrub to any moment, median of ${SCRUBS} | ${(middle(scrubs) / open).toFixed(4)} | ${middle(scrubs).toFixed(1)} (limit 16.7) |
| the slowest in twenty | ${(middle(scrubs, 0.95) / open).toFixed(4)} | ${middle(scrubs, 0.95).toFixed(1)} |
| every fault tried in all its cases | ${(trials / open).toFixed(3)} | ${trials.toFixed(0)} |
`;
writeFileSync(new URL('../docs/bench/rehearse.md', import.meta.url), text);
process.stdout.write(text);
