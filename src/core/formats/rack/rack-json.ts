import { z } from 'zod';
import { PRINTER_LIMITS } from '../../printer/printer.ts';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import {
  FINDINGS,
  GREATEST_SPREAD_MM,
  GREATEST_TRANSMISSION_MM,
  LEAST_TRANSMISSION_MM,
  type Filament,
} from '../../stack/filament.ts';
import { firstIssue, readJsonList } from './json-list.ts';
import { LONGEST_NOTE, LONGEST_TEXT, MOST_FILAMENTS } from './table-limits.ts';

const basisSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('hiding') }),
  z.object({ kind: z.literal('light-through'), threshold: z.number().gt(0).lt(1) }),
]);

const hexSchema = z.string().regex(/^#[0-9a-f]{6}$/, 'not of the form #rrggbb');
const codeSchema = z.number().min(0).max(255);

const readingSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('photo'),
    date: z.string().max(40),
    grounds: z.object({ black: hexSchema, white: hexSchema }),
    patches: z
      .array(
        z.object({
          ground: z.enum(['black', 'white']),
          thicknessMm: z.number().min(0).max(100),
          code: z.tuple([codeSchema, codeSchema, codeSchema]),
        }),
      )
      .max(200),
  }),
  z.object({
    kind: z.literal('eye'),
    date: z.string().max(40),
    basis: basisSchema,
    metMm: z.number().gt(0).max(100),
    notMetMm: z.number().min(0).max(100),
  }),
]);

const heat = ([least, greatest]: readonly [number, number]) =>
  z.number().min(least).max(greatest).optional();

/** A filament in a file or in storage. Those from before findings were kept count as read off labels. */
export const filamentSchema = z.object({
  id: z.string().min(1).max(LONGEST_TEXT),
  maker: z.string().max(LONGEST_TEXT),
  name: z.string().max(LONGEST_TEXT),
  material: z.string().max(LONGEST_TEXT),
  colour: hexSchema,
  transmissionMm: z.number().min(LEAST_TRANSMISSION_MM).max(GREATEST_TRANSMISSION_MM),
  basis: basisSchema,
  found: z.enum(FINDINGS).default('label'),
  uncertainty: z.number().min(0).max(100).optional(),
  scatterSlope: z.number().min(-6).max(6).optional(),
  spreadMm: z.number().min(0).max(GREATEST_SPREAD_MM).optional(),
  reading: readingSchema.optional(),
  pricePerKg: z.number().min(0).max(100_000).optional(),
  leftG: z.number().min(0).max(100_000).optional(),
  nozzleC: heat(PRINTER_LIMITS.nozzleC),
  bedC: heat(PRINTER_LIMITS.bedC),
  densityGCm3: z.number().gt(0).max(25),
  diameterMm: z.number().gt(0).max(10),
  onHand: z.boolean(),
  note: z.string().max(LONGEST_NOTE),
});

export type RackJsonFault = Fault<
  'not-json' | 'not-a-rack' | 'too-many-rows' | 'bad-filament' | 'duplicate-id'
>;

/** Version of the file's shape. */
const RACK_FILE_VERSION = 1;

/**
 * Reads a rack kept as JSON: `{"rack": 1, "filaments": [...]}` or the bare list. Every filament stands for itself: what is
 * wrong with one (`where` counts them from 1) does not touch the others.
 */
export function readRackJson(
  text: string,
): Result<Result<Filament, RackJsonFault>[], RackJsonFault> {
  const list = readJsonList(text, 'filaments', MOST_FILAMENTS, {
    notOne: 'not-a-rack',
    tooMany: 'too-many-rows',
  });
  if (!list.ok) return list;
  const seen = new Set<string>();
  return succeed(
    list.value.map((entry, i) => {
      const where = `filament ${i + 1}`;
      const parsed = filamentSchema.safeParse(entry);
      if (!parsed.success) return fail('bad-filament', where, firstIssue(parsed.error));
      if (seen.has(parsed.data.id)) return fail('duplicate-id', where, parsed.data.id);
      seen.add(parsed.data.id);
      return succeed(parsed.data);
    }),
  );
}

/** Writes a rack with everything that is known of its filaments, readings included. */
export function writeRackJson(filaments: readonly Filament[]): string {
  return `${JSON.stringify({ rack: RACK_FILE_VERSION, filaments }, null, 2)}\n`;
}
