import { z } from 'zod';
import { printerSchema } from '#core/formats/rack/printer-schema.ts';
import { RUN_STATES } from '#core/rehearse/printer-run.ts';

/** Speeds at which the clock of a simulated printer may run. */
export const SPEED_LIMITS = [1, 3600] as const;

const spool = z.string().min(1).max(200).describe('Id of a filament.');
const seconds = z.number().min(0);

/** What goes wrong in a run. */
export const faultsSchema = z.strictObject({
  ignores: z.number().int().min(1).optional().describe('Runs through its stop of this number.'),
  resumesAfterS: seconds.optional().describe('Goes on by itself after waiting so long.'),
  wrongSpool: z
    .strictObject({ stop: z.number().int().min(1), spool })
    .optional()
    .describe('At this stop, another spool goes in than is loaded.'),
  sensor: z.boolean().optional().describe('Notices that the strand has ended.'),
  powerAtS: seconds.optional().describe('Loses its power after so many seconds of printing.'),
  runsOutAfterMm: seconds.optional().describe('Strand that is left on the spool, mm.'),
});
export type PrinterFaults = z.infer<typeof faultsSchema>;

const speed = z.number().min(SPEED_LIMITS[0]).max(SPEED_LIMITS[1]);

/** A printer to be put up. */
export const newPrinterSchema = z.strictObject({
  printer: printerSchema,
  speed: speed.default(1).describe('Seconds of its clock in one second.'),
  faults: faultsSchema.default({}),
  spool: spool.nullable().default(null).describe('What is loaded before the start.'),
  feeder: z.array(spool).max(64).default([]).describe('Spools by the number of the tool.'),
});
export type NewPrinter = z.input<typeof newPrinterSchema>;

/** What of a printer may be changed while it runs. */
export const changeSchema = z.strictObject({
  speed: speed.optional(),
  faults: faultsSchema.optional(),
});
export type PrinterChange = z.infer<typeof changeSchema>;

/** What a maker does at it. */
export const commandSchema = z.discriminatedUnion('command', [
  z.strictObject({ command: z.literal('start') }),
  z.strictObject({ command: z.literal('pause') }),
  z.strictObject({ command: z.literal('resume') }),
  z.strictObject({ command: z.literal('stop') }),
  z.strictObject({ command: z.literal('load'), spool }),
]);

const event = z.object({
  kind: z.enum([
    'started',
    'heated',
    'stopped-at',
    'ran-through',
    'ignored',
    'paused',
    'resumed',
    'resumed-itself',
    'loaded',
    'fed',
    'ran-out',
    'power-lost',
    'ended',
    'done',
  ]),
  clockS: seconds,
  printS: seconds,
  stop: z.number().int().optional(),
  spool: spool.nullable().optional(),
});

/** How a printer is at a moment. */
export const statusSchema = z.object({
  id: z.string(),
  told: z
    .number()
    .int()
    .describe('Rises with each answer: of two that cross on their way the greater is the later.'),
  name: z.string(),
  state: z.enum(RUN_STATES),
  speed: z.number(),
  clockS: seconds.describe('Since the start, heating and stops counted.'),
  printS: seconds.describe('Of printing.'),
  totalS: seconds.describe('Of printing of the whole file; 0 without a file.'),
  spool: spool.nullable(),
  file: z.object({ bytes: z.number(), layers: z.number(), stops: z.number() }).nullable(),
  waiting: z
    .object({
      why: z.enum(['stop', 'panel', 'empty', 'feeder']),
      sinceS: seconds,
      stop: z.number().nullable(),
      line: z.number().nullable(),
      layer: z.number().nullable(),
      command: z.string().nullable(),
    })
    .nullable(),
  laid: z.array(z.object({ fromS: seconds, spool: spool.nullable() })),
  faults: faultsSchema,
  events: z.array(event),
});
export type PrinterStatus = z.infer<typeof statusSchema>;

/** Why something was refused. */
export const refusalSchema = z.object({ message: z.string() });
