/**
 * `npm run bench`: what edits of artwork take, as ratios to a plain 32-bit loop copy of the same pixels in the same run. Writes
 * docs/bench/edit.md.
 */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { sampleArtwork } from '../src/core/artwork/sample-artwork.ts';
import type { RgbaRaster } from '../src/core/base/raster.ts';
import {
  FIRST_SETTINGS,
  type ArtworkEdit,
  type EditKind,
  type EditSettings,
} from '../src/core/edit/artwork-edit.ts';
import { cutOutSubject } from '../src/core/edit/cutout/cut-out.ts';
import { signedDistances } from '../src/core/edit/distance.ts';
import { EditDesk, QUICK_PX } from '../src/core/edit/edit-desk.ts';
import { denoise, sharpen } from '../src/core/edit/filters.ts';
import { reduceColours } from '../src/core/edit/flat/reduce-colours.ts';
import { applyRun, type PixelEdit } from '../src/core/edit/runs.ts';
import { selectSimilar } from '../src/core/edit/similar.ts';
import { decodePicture } from '../src/platform/node/decode-picture.ts';

const still = (): void => undefined;

async function load(path: string): Promise<RgbaRaster> {
  const decoded = await decodePicture(readFileSync(new URL(`../${path}`, import.meta.url)));
  if (!decoded.ok) throw new Error(decoded.fault.code);
  return decoded.value;
}

/** Median time, ms. */
function time(rounds: number, work: () => unknown): number {
  work();
  const times = Array.from({ length: rounds }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  }).sort((a, b) => a - b);
  return times[Math.floor(rounds / 2)] ?? 0;
}

function copyTime({ data }: RgbaRaster): number {
  const from = new Uint32Array(data.slice().buffer);
  const to = new Uint32Array(from.length);
  return time(9, () => {
    for (let i = 0; i < from.length; i += 1) to[i] = from[i] as number;
  });
}

function edit<Kind extends EditKind>(
  kind: Kind,
  settings: Partial<EditSettings[Kind]>,
): ArtworkEdit {
  const base = { id: kind, kind, on: true, mask: null };
  return { ...base, ...FIRST_SETTINGS[kind], ...settings } as unknown as ArtworkEdit;
}

const dome = await load('demo/art/dome-at-dusk.png');
const badge = await load('demo/art/dome-badge.png');
const mega = sampleArtwork(dome, 1224, 817);
const large = sampleArtwork(dome, 4272, 2848);
const huge = sampleArtwork(dome, 7745, 5163);
const rows: string[] = [];
const copyMs = copyTime(mega);
const row = (what: string, ms: number, limit: string, baseMs = copyMs): void => {
  rows.push(`| ${what} | ${(ms / baseMs).toFixed(1)} | ${(ms / 1000).toFixed(3)} s | ${limit} |`);
  process.stdout.write(`${rows.at(-1) ?? ''}\n`);
};

const fresh = (raster: RgbaRaster): RgbaRaster => ({
  ...raster,
  data: new Uint8ClampedArray(raster.data),
});
const channels = [edit('tone', { brightness: 0.2 }), edit('white', { warmth: 0.2 })] as PixelEdit[];
const work = fresh(mega);
row(
  'channel edits of 1 MP',
  time(9, () => {
    applyRun(work, channels, undefined, false, 0, still);
  }),
  'x 4',
);
const hue = [edit('hue', { centre: 40, turn: 26 })] as PixelEdit[];
const small = sampleArtwork(dome, 774, 516);
row(
  `a hue edit while dragging, ${(QUICK_PX / 1e6).toFixed(1)} MP, by look-up, copy included`,
  time(9, () => {
    applyRun(fresh(small), hue, undefined, true, 0, still);
  }),
  '50 ms',
);
row(
  'a hue edit of 1 MP, exactly',
  time(3, () => {
    applyRun(fresh(mega), hue, undefined, false, 0, still);
  }),
  '',
);
const largeCopy = copyTime(large);
row(
  'a hue edit of 12 MP, exactly, to the copy of 12 MP',
  time(1, () => {
    applyRun(fresh(large), hue, undefined, false, 0, still);
  }),
  'x 18 to 43',
  largeCopy,
);
row(
  'similar, everywhere, 1 MP',
  time(5, () => selectSimilar(mega, 1100, 470, 0.3, false)),
  'x 4',
);
row(
  'similar, touching, 1 MP',
  time(5, () => selectSimilar(mega, 1100, 470, 0.3, true)),
  'x 8',
);
const mask = selectSimilar(mega, 1100, 470, 0.3, false);
row(
  'signed distance, 1 MP',
  time(5, () => signedDistances(mask, mega.width, mega.height)),
  'x 25',
);
row(
  'denoise 1 MP',
  time(3, () => denoise(mega, 0.4, 1, undefined, still)),
  '',
);
row(
  'sharpen 1 MP',
  time(3, () => sharpen(mega, 0.6, 1.5, 1, undefined, still)),
  '',
);
const subject = { ...FIRST_SETTINGS.cutout, box: { left: 330, top: 360, width: 320, height: 260 } };
row(
  'cut-out of 1 MP from a box',
  time(9, () => cutOutSubject(mega, subject, undefined, still)),
  '',
);
const stroked = { ...subject, keep: [{ radius: 8, points: [480, 450, 520, 470] }] };
row(
  'cut-out of 1 MP after a stroke',
  time(9, () => cutOutSubject(mega, stroked, undefined, still)),
  '0.5 s',
);
const whole = { ...subject, box: { left: 1150, top: 1250, width: 1120, height: 900 } };
row(
  'cut-out of 12 MP',
  time(1, () => cutOutSubject(large, whole, undefined, still)),
  '7 s',
);
const flat = sampleArtwork(badge, 1000, 1000);
row(
  'flat colours of 1 MP',
  time(3, () => reduceColours(flat, FIRST_SETTINGS.colours, still)),
  '1 s',
);

// Ten edits of a picture as large as any is worked with; what the process takes at most is read afterwards.
const ten = [
  edit('crop', { left: 20, top: 20, width: 7700, height: 5100 }),
  edit('tone', {
    brightness: 0.1,
    curve: [
      [0, 0],
      [0.4, 0.5],
      [1, 1],
    ],
  }),
  edit('white', { warmth: 0.1 }),
  edit('hue', { centre: 40, turn: 26 }),
  edit('hue', { centre: 280, chroma: 1.2 }),
  edit('denoise', { strength: 0.3 }),
  edit('tone', { contrast: 0.1 }),
  edit('sharpen', {}),
  edit('mirror', {}),
  edit('grey', {}),
];
const before = performance.now();
new EditDesk(huge).edited({ key: 'ten', edits: ten, selections: [] }, false);
const tenMs = performance.now() - before;
const peakMb = Math.round(process.resourceUsage().maxRSS / 1024);
rows.push(
  `| ten edits of 40 MP | ${(tenMs / copyTime(huge)).toFixed(0)} | ${(tenMs / 1000).toFixed(1)} s | memory of the whole run ${peakMb} MB at most, limit 2 GB |`,
);

const report = `# Bench of edits

Made by \`npm run bench\`. Ratios to a plain 32-bit loop copy of the same pixels (one megapixel where nothing is said), measured in
the same run.
Machine: ${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, Node ${process.versions.node}.

| what | ratio | here | limit |
|---|---|---|---|
${rows.join('\n')}
`;
mkdirSync(new URL('../docs/bench', import.meta.url), { recursive: true });
writeFileSync(new URL('../docs/bench/edit.md', import.meta.url), report);
process.stdout.write(report);
