import Papa from 'papaparse';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import { parseHex, type Triple } from '../../colour/srgb.ts';
import { WEDGE_COLUMNS } from './table-limits.ts';
import type { Ground, PhotoReading, WedgePatch } from '../../optics/wedge-reading.ts';

export type WedgeCsvFault = Fault<
  'no-rows' | 'missing-column' | 'bad-ground' | 'bad-thickness' | 'bad-code' | 'no-bare-ground'
>;

/**
 * Reads the readings of a wedge: one patch a row, `ground` black or white, `thickness_mm` (0 is the bare ground, needed
 * once for each ground that is used) and the sRGB codes 0..255 of `red`, `green` and `blue`, decimals allowed. Codes are
 * taken as they are: they must stem from a photo in even light.
 */
export function readWedgeCsv(text: string, date: string): Result<PhotoReading, WedgeCsvFault> {
  const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), {
    delimitersToGuess: [',', ';', '\t'],
    skipEmptyLines: 'greedy',
  });
  const [header, ...rows] = data;
  if (!header || rows.length === 0) return fail('no-rows');
  const places = header.map((name) => name.trim().toLowerCase());
  const missing = WEDGE_COLUMNS.find((column) => !places.includes(column));
  if (missing) return fail('missing-column', 'row 1', missing);
  const bare: Record<Ground, Triple[]> = { black: [], white: [] };
  const patches: WedgePatch[] = [];
  for (const [i, row] of rows.entries()) {
    const where = `row ${i + 2}`;
    const cell = (column: (typeof WEDGE_COLUMNS)[number]): string =>
      (row[places.indexOf(column)] ?? '').trim();
    const ground = cell('ground').toLowerCase();
    if (ground !== 'black' && ground !== 'white') return fail('bad-ground', where, ground);
    const thicknessMm = numberOf(cell('thickness_mm'));
    if (!(thicknessMm >= 0 && thicknessMm <= 100))
      return fail('bad-thickness', where, cell('thickness_mm'));
    const texts = [cell('red'), cell('green'), cell('blue')] as const;
    const bad = texts.find((text) => !(numberOf(text) >= 0 && numberOf(text) <= 255));
    if (bad !== undefined) return fail('bad-code', where, bad);
    const code: Triple = [numberOf(texts[0]), numberOf(texts[1]), numberOf(texts[2])];
    if (thicknessMm === 0) bare[ground].push(code);
    else patches.push({ ground, thicknessMm, code });
  }
  for (const ground of ['black', 'white'] as const)
    if (bare[ground].length === 0 && patches.some((patch) => patch.ground === ground))
      return fail('no-bare-ground', undefined, ground);
  return succeed({
    kind: 'photo',
    date,
    // A ground without patches is never looked at.
    grounds: { black: meanHex(bare.black) ?? '#000000', white: meanHex(bare.white) ?? '#ffffff' },
    patches,
  });
}

function numberOf(text: string): number {
  return /^\d+(\.\d+)?$|^\.\d+$/.test(text) ? Number(text) : Number.NaN;
}

function meanHex(codes: readonly Triple[]): string | undefined {
  if (codes.length === 0) return undefined;
  const mean = [0, 1, 2].map((channel) =>
    Math.round(codes.reduce((sum, code) => sum + (code[channel] ?? 0), 0) / codes.length),
  );
  const hex = `#${mean.map((value) => value.toString(16).padStart(2, '0')).join('')}`;
  return parseHex(hex) ? hex : undefined;
}

/** Writes a reading the way {@link readWedgeCsv} reads it. */
export function writeWedgeCsv({ grounds, patches }: PhotoReading): string {
  const rows = [
    ...(['black', 'white'] as const).map((ground) => ({
      ground,
      thicknessMm: 0,
      code: parseHex(grounds[ground]) ?? ([0, 0, 0] as Triple),
    })),
    ...patches,
  ].map(({ ground, thicknessMm, code }) => ({
    ground,
    thickness_mm: thicknessMm,
    red: code[0],
    green: code[1],
    blue: code[2],
  }));
  return `${Papa.unparse(rows, { columns: [...WEDGE_COLUMNS], newline: '\r\n' })}\r\n`;
}
