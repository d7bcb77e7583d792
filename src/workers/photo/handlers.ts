import { partOf } from '#core/base/checkpoint.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { relief3mf, reliefStl } from '#core/formats/mesh/relief-files.ts';
import { fitWedge } from '#core/optics/fit-wedge.ts';
import { ONE_PIECE } from '#core/schedule/pieces.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { readWedgePhoto } from '#core/wedge/read-photo.ts';
import { isUprightQuad, perspectiveOf, straighten } from '#core/wedge/straighten.ts';
import { WEDGE_SAMPLE_MM, wedgeHeights } from '#core/wedge/wedge-relief.ts';
import type { Decode } from '../decode.ts';
import type { PhotoJobs } from './jobs.ts';
import { handOver, type Handlers } from '../serve.ts';

/** Pixels a mm of the straightened picture. */
const STRAIGHT_PX_PER_MM = 5;

/** The jobs on step wedges. The photo stays here. */
export function photoHandlers(decode: Decode): Handlers<PhotoJobs> {
  let photo: RgbaRaster | undefined;
  return {
    openPhoto: async ({ bytes }, checkpoint) => {
      const decoded = await decode(bytes);
      if (!decoded.ok) return decoded;
      checkpoint(0.9);
      photo = decoded.value.raster;
      return { ok: true, value: { width: photo.width, height: photo.height } };
    },

    readPhoto: ({ corners, plan, grounds, date }, checkpoint) => {
      if (!photo) throw new Error('no photo is open');
      const map = isUprightQuad(corners) ? perspectiveOf(corners) : undefined;
      const straight = map
        ? straighten(
            photo,
            map,
            Math.round(plan.widthMm * STRAIGHT_PX_PER_MM),
            Math.round(plan.heightMm * STRAIGHT_PX_PER_MM),
          )
        : null;
      checkpoint(0.2);
      const read = readWedgePhoto(photo, corners, plan, grounds, date);
      checkpoint(0.5);
      return { read, fit: read.ok ? fitWedge(read.value.reading) : null, straight };
    },

    refit: ({ reading }) => fitWedge(reading),

    wedgeGcode: async ({ plan, swaps, ...print }, checkpoint) => {
      // What slices comes with the first slice.
      const { makeOwnGcode } = await import('#core/slicing/own-gcode.ts');
      return makeOwnGcode(
        {
          ...print,
          heights: partDiagonals(wedgeHeights(plan)).heights,
          sampleMm: WEDGE_SAMPLE_MM,
          pieces: ONE_PIECE,
          ironing: null,
          plan: swaps,
        },
        checkpoint,
      );
    },

    wedgeFile: ({ format, plan, stack, filaments, title, stamp }, checkpoint) => {
      const source = {
        heights: partDiagonals(wedgeHeights(plan)).heights,
        stack,
        filaments,
        sampleMm: WEDGE_SAMPLE_MM,
        stamp,
        title,
      };
      const write = partOf(checkpoint, 0.1, 1);
      const { pieces } = (format === 'stl' ? reliefStl : relief3mf)(source, write);
      return handOver(
        { pieces },
        pieces.map(({ buffer }) => buffer),
      );
    },
  };
}
