import type { Checkpoint } from '../base/checkpoint.ts';
import type { Result } from '../base/result.ts';
import type { PrintPlan } from '../gcode/print-plan.ts';
import type { Printer } from '../printer/printer.ts';
import { ONE_PIECE } from '../schedule/pieces.ts';
import { layerTopMm } from '../stack/layer-grid.ts';
import { makeOwnGcode, type OwnGcode, type OwnGcodeFault } from './own-gcode.ts';

/** The tile: 20 mm square, four layers, the stop after the second one. */
const SIDE_MM = 20;
const SAMPLE_MM = 0.5;
const SAMPLES = SIDE_MM / SAMPLE_MM;
const LAYERS = 4;
const STOP_AFTER = 2;

/**
 * A tiny print to try a printer's pause with: whether it stops at all, parks away from the piece, and waits; and whether start and end
 * text, heat and speeds suit it.
 */
export function makePauseTest(
  printer: Printer,
  checkpoint?: Checkpoint,
): Promise<Result<OwnGcode, OwnGcodeFault>> {
  const grid = { firstLayerMm: printer.firstLayerMm, layerMm: printer.layerMm };
  const plan: PrintPlan = {
    stamp: 'test',
    swaps: [
      {
        swap: 1,
        layer: STOP_AFTER + 1,
        stopAfterMm: layerTopMm(grid, STOP_AFTER),
        layerTopMm: layerTopMm(grid, STOP_AFTER + 1),
        from: 'first',
        to: 'second',
      },
    ],
    layerGrid: grid,
    layers: LAYERS,
    widthMm: SIDE_MM,
    depthMm: SIDE_MM,
    lineMm: printer.lineMm,
    filamentMm: printer.filamentMm,
    areasMm2: Array.from({ length: LAYERS }, () => SIDE_MM ** 2),
    pauses: [printer.pause.command],
    pauseText: printer.pause.text,
    purgesMm: [printer.purgeToLightMm],
    filaments: { first: 'first', second: 'second' },
  };
  return makeOwnGcode(
    {
      heights: {
        width: SAMPLES,
        height: SAMPLES,
        data: new Uint8Array(SAMPLES ** 2).fill(LAYERS),
      },
      sampleMm: SAMPLE_MM,
      stack: {
        grid,
        bands: [
          { filamentId: 'first', layers: STOP_AFTER },
          { filamentId: 'second', layers: LAYERS - STOP_AFTER },
        ],
      },
      filaments: {},
      printer,
      pieces: ONE_PIECE,
      ironing: null,
      plan,
      title: `Pause test for ${printer.pause.command}: stops when layer ${STOP_AFTER} is finished, and waits`,
    },
    checkpoint,
  );
}
