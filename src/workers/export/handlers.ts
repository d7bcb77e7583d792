import { partOf } from '#core/base/checkpoint.ts';
import { succeed } from '#core/base/result.ts';
import type { ReliefSource } from '#core/formats/mesh/band-solids.ts';
import { exportFile, type ExportFile } from '#core/formats/mesh/export-files.ts';
import { zipPieces, type ZipEntry } from '#core/formats/mesh/zip-pieces.ts';
import { cropHeights } from '#core/heights/height-map.ts';
import { ReliefPlan } from '#core/plan/relief-plan.ts';
import { PNG_ENCODERS } from '../../platform/encode-pictures.ts';
import type { Decode } from '../decode.ts';
import { measureWhole } from '../measure.ts';
import { handOver, type Handlers } from '../serve.ts';
import type { ExportJobs } from './jobs.ts';

/** The jobs on finished reliefs of one artwork. */
export function exportHandlers(decode: Decode): Handlers<ExportJobs> {
  let plan: ReliefPlan | undefined;
  return {
    open: async ({ bytes, drawn }) => {
      if (drawn) {
        plan = new ReliefPlan(drawn);
        return succeed(null);
      }
      const decoded = await decode(bytes);
      if (!decoded.ok) return decoded;
      plan = new ReliefPlan(decoded.value.raster);
      return succeed(null);
    },

    counts: async (request, checkpoint) => {
      if (!plan) throw new Error('no artwork is open');
      await plan.prepare(request);
      return measureWhole(plan.relief(request, checkpoint));
    },

    gcode: async ({ request, ...print }, checkpoint) => {
      if (!plan) throw new Error('no artwork is open');
      await plan.prepare(request);
      const { heights, outlines, inlaid } = plan.relief(request, partOf(checkpoint, 0, 0.1));
      // What slices comes with the first slice.
      const { makeOwnGcode } = await import('#core/slicing/own-gcode.ts');
      const made = await makeOwnGcode(
        { ...print, heights, outlines, inlaid, sampleMm: request.sampleMm },
        partOf(checkpoint, 0.1, 1),
      );
      return made.ok
        ? handOver(
            made,
            made.value.pieces.map(({ buffer }) => buffer),
          )
        : made;
    },

    files: async ({ formats, zip, ...wanted }, checkpoint) => {
      if (!plan) throw new Error('no artwork is open');
      const { request, crop, ...rest } = wanted;
      await plan.prepare(request);
      const { heights: whole, ...relief } = plan.relief(request, partOf(checkpoint, 0, 0.3));
      const { outlines, inlaid } = relief;
      const heights = crop ? cropHeights(whole) : whole;
      const { sampleMm, face } = request;
      const looked = face && { view: face, heights: plan.looked(request) };
      const source: ReliefSource = { ...rest, heights, outlines, inlaid, sampleMm, looked };
      const share = 0.6 / formats.length;
      const files = formats.map((format, i) =>
        exportFile(
          format,
          source,
          PNG_ENCODERS,
          partOf(checkpoint, 0.3 + share * i, 0.3 + share * (i + 1)),
        ),
      );
      const made = zip ? [zipFiles(files, zip)] : files;
      return handOver(
        { files: made },
        made.flatMap(({ pieces }) => pieces.map(({ buffer }) => buffer)),
      );
    },
  };
}

/** One zip of everything. Pictures and packages are compressed already. */
function zipFiles(
  files: readonly ExportFile[],
  extra: Readonly<Record<string, Uint8Array>>,
): ExportFile {
  const entry = (name: string, pieces: readonly Uint8Array[]): ZipEntry => ({
    name,
    stored: /\.(png|3mf|zip|strata)$/.test(name),
    write: (out) => {
      for (const piece of pieces) out.bytes(piece);
    },
  });
  return {
    suffix: 'everything.zip',
    type: 'application/zip',
    pieces: zipPieces([
      ...files.map(({ suffix, pieces }) => entry(suffix, pieces)),
      ...Object.entries(extra).map(([name, bytes]) => entry(name, [bytes])),
    ]),
    triangles: files.reduce((sum, { triangles }) => Math.max(sum, triangles), 0),
  };
}
