/**
 * How long sliced files of 100 MB take, as ratios to splitting the same bytes into lines, and how much memory: part of
 * `npm run bench`. Each way runs in a process of its own. Writes docs/bench/gcode.md.
 */
import { spawnSync } from 'node:child_process';
import {
  closeSync,
  mkdtempSync,
  openSync,
  readSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { readGcode } from '../src/core/gcode/read-gcode.ts';
import { changedSource, eachChunk, piecesOf } from '../src/core/gcode/source.ts';
import { findOwnLines } from '../src/core/gcode/take-out.ts';
import { changesOf, planWeave } from '../src/core/gcode/weave.ts';
import { openSource, writePieces } from '../src/platform/node/file-source.ts';
import { planOf, reliefForSlices } from '../tests/helpers/gcode.ts';
import { LAYER_MM, writeLargeFile } from './large-gcode.ts';

const BYTES = 100e6;
const ROUNDS = 5;
const PLAN = {
  ...planOf(reliefForSlices(), 10),
  layerGrid: { firstLayerMm: LAYER_MM, layerMm: LAYER_MM },
};

/** What each way does with a file; `out` is there to be written. */
const WAYS: Readonly<Record<string, (path: string, out: string) => unknown>> = {
  read: (path) => {
    const file = openSync(path, 'r');
    const chunk = new Uint8Array(1 << 20);
    let sum = 0;
    for (let n = readSync(file, chunk); n > 0; n = readSync(file, chunk)) sum += chunk[n - 1] ?? 0;
    closeSync(file);
    return sum;
  },
  split: (path) => {
    const file = openSync(path, 'r');
    const chunk = new Uint8Array(1 << 20);
    const decoder = new TextDecoder();
    let rest = '';
    let count = 0;
    for (let n = readSync(file, chunk); n > 0; n = readSync(file, chunk)) {
      const parts = (rest + decoder.decode(chunk.subarray(0, n), { stream: true })).split('\n');
      rest = parts.pop() ?? '';
      count += parts.length;
    }
    closeSync(file);
    return count;
  },
  inspect: async (path) => {
    const source = await openSource(path);
    const read = await readGcode(source);
    await source.close();
    return read.ok && read.value.lines;
  },
  timed: async (path) => {
    const source = await openSource(path);
    const read = await readGcode(source, { accelerationMmS2: 1500 });
    await source.close();
    return read.ok && read.value.seconds;
  },
  insert: async (path, out) => {
    const source = await openSource(path);
    const own = await findOwnLines(source);
    const bare = own.ok ? changedSource(source, own.value.cuts) : source;
    const read = await readGcode(bare);
    if (!read.ok) throw new Error(read.fault.code);
    const weaving = planWeave(read.value, PLAN, {
      pause: { command: 'M600', text: '' },
      switchOff: true,
    });
    await writePieces(out, bare, piecesOf(bare.size, changesOf(weaving, read.value.crlf)));
    await source.close();
    return weaving.blocks.length;
  },
  'take out': async (path, out) => {
    const source = await openSource(path);
    const own = await findOwnLines(source);
    if (!own.ok) throw new Error(own.fault.code);
    await writePieces(out, source, piecesOf(source.size, own.value.cuts));
    await source.close();
    return own.value.blocks;
  },
  same: async (path, out) => {
    const [one, other] = await Promise.all([openSource(path), openSource(out)]);
    let same = one.size === other.size;
    let at = 0;
    const copies: Promise<void>[] = [];
    await eachChunk(one, (chunk) => {
      const from = at;
      at += chunk.length;
      copies.push(
        other.read(from, from + chunk.length).then((bytes) => {
          same &&= Buffer.from(bytes).equals(chunk);
        }),
      );
    });
    await Promise.all(copies);
    await Promise.all([one.close(), other.close()]);
    return same;
  },
};

const [wayName, ...paths] = process.argv.slice(2);
if (wayName !== undefined) {
  const start = performance.now();
  const answer = await WAYS[wayName]?.(paths[0] ?? '', paths[1] ?? '');
  const ms = performance.now() - start;
  process.stdout.write(JSON.stringify({ ms, rssKb: process.resourceUsage().maxRSS, answer }));
} else {
  const folder = mkdtempSync(join(tmpdir(), 'strata-bench-'));
  const large = join(folder, 'large.gcode');
  writeLargeFile(large, BYTES);
  const self = fileURLToPath(import.meta.url);
  const run = (way: string, from: string, to: string) => {
    const done = spawnSync(process.execPath, [...process.execArgv, self, way, from, to], {
      encoding: 'utf8',
    });
    if (done.status !== 0) throw new Error(`${way}: ${done.stderr}`);
    return JSON.parse(done.stdout) as { ms: number; rssKb: number; answer: unknown };
  };
  const woven = join(folder, 'woven.gcode');
  const back = join(folder, 'back.gcode');
  const steps = [
    ['read', large, back],
    ['split', large, back],
    ['inspect', large, back],
    ['timed', large, back],
    ['insert', large, woven],
    ['take out', woven, back],
  ] as const;
  const kept: Record<string, { ms: number[]; mb: number; answer: unknown }> = {};
  for (let round = 0; round < ROUNDS; round += 1)
    for (const [way, from, to] of steps) {
      const { ms, rssKb, answer } = run(way, from, to);
      const own = (kept[way] ??= { ms: [], mb: Infinity, answer });
      own.ms.push(ms);
      own.mb = Math.min(own.mb, rssKb / 1024);
    }
  const same = run('same', large, back).answer;
  const size = statSync(large).size;
  rmSync(folder, { recursive: true });
  const median = (way: string): number =>
    [...(kept[way]?.ms ?? [])].sort((a, b) => a - b)[ROUNDS >> 1] ?? Number.NaN;
  const plainMb = kept.read?.mb ?? 0;
  const limits: Readonly<Record<string, string>> = { inspect: '2.5', insert: '3', 'take out': '1' };
  const rows = steps.map(
    ([way]) =>
      `| ${way} | ${(median(way) / median('split')).toFixed(2)} | ${limits[way] ?? ''} | ${Math.round((kept[way]?.mb ?? 0) - plainMb)} |`,
  );
  const text = `# Bench of sliced files

Made by \`npm run bench\`. A file of ${(size / 1e6).toFixed(0)} MB with ${String(kept.inspect?.answer)} lines; medians of ${ROUNDS} runs, each in a process of its own.
*split* decodes the bytes and splits them into lines, and nothing else. *inspect* reads everything, *timed* with acceleration too.
*insert* looks for swaps of ours, reads, and writes the file with ${String(kept.insert?.answer)} swaps; *take out* finds them and writes the file back: ${same === true ? 'the same bytes' : 'OTHER BYTES'}.
Memory: least peak of those runs above that of reading the bytes alone (limit 60 MB).
Machine: ${cpus()[0]?.model ?? 'unknown'}, ${cpus().length} cores, Node ${process.versions.node}.

| way | times splitting into lines | limit | memory above reading, MB |
|---|---|---|---|
${rows.join('\n')}
`;
  writeFileSync(new URL('../docs/bench/gcode.md', import.meta.url), text);
  process.stdout.write(text);
}
