import { succeed } from '#core/base/result.ts';
import { panelSwaps } from '#core/rehearse/by-panel.ts';
import { LaidPicture } from '#core/rehearse/laid-picture.ts';
import { layerSpan } from '#core/rehearse/laid-print.ts';
import {
  jobOf,
  mannerOf,
  openRehearsal,
  playFile,
  TRIALS,
  tryFault,
  type RehearsedFile,
} from '#core/rehearse/rehearsal.ts';
import { bandOfLayers, partFilaments } from '#core/gcode/print-plan.ts';
import { plannedLaid, scoreOfRun } from '#core/rehearse/score.ts';
import { opticsOf } from '#core/stack/filament.ts';
import { blobSource } from '../../platform/browser/blob-source.ts';
import { handOver, type Handlers } from '../serve.ts';
import type { RehearseJobs } from './jobs.ts';

/** The jobs on one file that is rehearsed. */
export function rehearseHandlers(): Handlers<RehearseJobs> {
  let opened: { readonly file: RehearsedFile; readonly picture: LaidPicture } | null = null;
  const present = (): NonNullable<typeof opened> => {
    if (!opened) throw new Error('no file is rehearsed');
    return opened;
  };
  return {
    open: async ({ file: blob, plan, printer, filaments }, checkpoint) => {
      opened = null;
      const read = await openRehearsal(blobSource(blob), plan, printer, checkpoint);
      if (!read.ok) return read;
      const { file, report } = read.value;
      const bands = bandOfLayers(report, plan);
      const filamentsOfParts = partFilaments(plan);
      const { print, planned } = file;
      const optics = new Map(
        Object.values(filaments).map((filament) => [filament.id, opticsOf(filament)]),
      );
      opened = { file, picture: new LaidPicture(print, optics) };
      const manner = mannerOf(printer, plan);
      return succeed({
        layers: print.layers.map(({ topMm }, n) => {
          const [beginS, endS] = layerSpan(print, n + 1);
          const filament = planned[n] ?? '';
          const band = bands[n] ?? 0;
          // A layer of a face may begin with an inlay.
          const part =
            filamentsOfParts[band] === filament ? band : filamentsOfParts.indexOf(filament);
          return { topMm, beginS, endS, filament, part: Math.max(0, part) };
        }),
        job: jobOf(print, planned),
        manner,
        planned: plannedLaid(print, planned),
        panel: panelSwaps(print, planned, { heatS: manner.heatS, swapS: printer.swapS }),
        width: print.grid.width,
        height: print.grid.height,
      });
    },

    picture: ({ laid, atS }) => {
      const { file, picture } = present();
      const data = picture.at(laid, atS);
      const { width, height } = file.print.grid;
      return handOver({ width, height, data }, [data.buffer]);
    },

    score: (run) => {
      const { file } = present();
      return scoreOfRun(file.print, file.planned, run);
    },

    play: ({ faults, emptyAfterMm }) => playFile(present().file, faults, { emptyAfterMm }),

    tryAll: (_, checkpoint) => {
      const { file } = present();
      return TRIALS.flatMap((trial, n) => {
        checkpoint(n / TRIALS.length);
        return tryFault(file, trial) ?? [];
      });
    },
  };
}
