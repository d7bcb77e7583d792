import { z } from 'zod';
import { LONGEST_PAUSE_TEXT, PAUSE_COMMANDS } from '../../printer/pause.ts';
import { LONGEST_PRINT_TEXT } from '../../printer/print-texts.ts';
import {
  BED_LIMITS,
  checkPrinter,
  LONGEST_PRINTER_NAME,
  PRINTER_LIMITS,
  USUAL_PRINTER,
} from '../../printer/printer.ts';

const within = ([least, greatest]: readonly [number, number]): z.ZodNumber =>
  z.number().min(least).max(greatest);
const side = within(BED_LIMITS);

/** A printer in a file, in a project or in storage. */
export const printerSchema = z
  .object({
    id: z.string().min(1).max(200),
    name: z.string().trim().min(1).max(LONGEST_PRINTER_NAME),
    bed: z.discriminatedUnion('shape', [
      z.object({ shape: z.literal('rectangle'), widthMm: side, depthMm: side }),
      z.object({ shape: z.literal('round'), diameterMm: side }),
    ]),
    heightMm: within(PRINTER_LIMITS.heightMm),
    nozzleMm: within(PRINTER_LIMITS.nozzleMm),
    lineMm: within(PRINTER_LIMITS.lineMm),
    firstLayerMm: within(PRINTER_LIMITS.firstLayerMm),
    layerMm: within(PRINTER_LIMITS.layerMm),
    firstLayerMmS: within(PRINTER_LIMITS.firstLayerMmS),
    solidMmS: within(PRINTER_LIMITS.solidMmS),
    outlineMmS: within(PRINTER_LIMITS.outlineMmS),
    travelMmS: within(PRINTER_LIMITS.travelMmS),
    // Files of before know nothing of these.
    accelerationMmS2: within(PRINTER_LIMITS.accelerationMmS2).default(
      USUAL_PRINTER.accelerationMmS2,
    ),
    cornerMmS: within(PRINTER_LIMITS.cornerMmS).default(USUAL_PRINTER.cornerMmS),
    retractMm: within(PRINTER_LIMITS.retractMm).default(USUAL_PRINTER.retractMm),
    retractMmS: within(PRINTER_LIMITS.retractMmS).default(USUAL_PRINTER.retractMmS),
    liftMm: within(PRINTER_LIMITS.liftMm).default(USUAL_PRINTER.liftMm),
    nozzleC: within(PRINTER_LIMITS.nozzleC).default(USUAL_PRINTER.nozzleC),
    bedC: within(PRINTER_LIMITS.bedC).default(USUAL_PRINTER.bedC),
    mostNozzleC: within(PRINTER_LIMITS.nozzleC).optional(),
    mostBedC: within(PRINTER_LIMITS.bedC).optional(),
    fanPercent: within(PRINTER_LIMITS.fanPercent).default(USUAL_PRINTER.fanPercent),
    purgeLine: z.boolean().default(USUAL_PRINTER.purgeLine),
    startText: z.string().max(LONGEST_PRINT_TEXT).default(USUAL_PRINTER.startText),
    endText: z.string().max(LONGEST_PRINT_TEXT).default(USUAL_PRINTER.endText),
    timeFactor: within(PRINTER_LIMITS.timeFactor).default(USUAL_PRINTER.timeFactor),
    feeder: z.boolean(),
    swapS: within(PRINTER_LIMITS.swapS),
    purgeToDarkMm: within(PRINTER_LIMITS.purgeToDarkMm),
    purgeToLightMm: within(PRINTER_LIMITS.purgeToLightMm),
    filamentMm: within(PRINTER_LIMITS.filamentMm),
    pause: z.object({
      command: z.enum(PAUSE_COMMANDS),
      text: z.string().max(LONGEST_PAUSE_TEXT),
    }),
  })
  .refine((printer) => checkPrinter(printer).length === 0, 'values that do not suit each other');
