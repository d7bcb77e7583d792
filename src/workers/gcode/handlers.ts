import { partOf } from '#core/base/checkpoint.ts';
import { succeed } from '#core/base/result.ts';
import { readLayerLines, readLinesAround } from '#core/gcode/layer-lines.ts';
import { readGcode } from '#core/gcode/read-gcode.ts';
import type { GcodeReport } from '#core/gcode/report.ts';
import { changedSource, type ByteSource } from '#core/gcode/source.ts';
import { findOwnLines } from '#core/gcode/take-out.ts';
import { blobSource } from '../../platform/browser/blob-source.ts';
import { handOver, type Handlers } from '../serve.ts';
import type { GcodeJobs } from './jobs.ts';

/** The jobs on one sliced file. */
export function gcodeHandlers(): Handlers<GcodeJobs> {
  let opened: { readonly source: ByteSource; readonly report: GcodeReport } | null = null;
  const file = (): NonNullable<typeof opened> => {
    if (!opened) throw new Error('no sliced file is open');
    return opened;
  };
  return {
    open: async ({ file: blob, accelerationMmS2 }, checkpoint) => {
      opened = null;
      const source = blobSource(blob);
      const own = await findOwnLines(source, partOf(checkpoint, 0, 0.1));
      if (!own.ok) return own;
      const woven = own.value.cuts.length > 0;
      const options = { accelerationMmS2 };
      const read = await readGcode(source, options, partOf(checkpoint, 0.1, woven ? 0.55 : 1));
      if (!read.ok) return read;
      const bare = woven
        ? await readGcode(
            changedSource(source, own.value.cuts),
            options,
            partOf(checkpoint, 0.55, 1),
          )
        : read;
      if (!bare.ok) return bare;
      opened = { source, report: read.value };
      return succeed({ report: read.value, own: own.value, bare: bare.value });
    },

    lines: async ({ first, last }, checkpoint) => {
      const { source, report } = file();
      const lines = await readLayerLines(source, report, first, last, checkpoint);
      return handOver(lines, [
        lines.points.buffer as ArrayBuffer,
        lines.line.buffer as ArrayBuffer,
        lines.layer.buffer as ArrayBuffer,
        lines.laid.buffer as ArrayBuffer,
      ]);
    },

    text: async ({ line, before, after }) => {
      const { source, report } = file();
      return readLinesAround(source, report, line, { before, after });
    },
  };
}
