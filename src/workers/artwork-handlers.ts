import { brightnessHistogram, measureBrightness } from '#core/artwork/brightness.ts';
import {
  importanceOfCells,
  paintImportance,
  type ImportanceStroke,
} from '#core/artwork/importance.ts';
import { shareInPiece } from '#core/relief/sampling.ts';
import { printedBox, sampleArtwork } from '#core/artwork/sample-artwork.ts';
import { partOf, type Checkpoint } from '#core/base/checkpoint.ts';
import { MAX_LAYERS, type HeightMap, type RgbaRaster } from '#core/base/raster.ts';
import type { Result } from '#core/base/result.ts';
import { digestBytes } from '#core/base/stamp.ts';
import type { ReliefSource } from '#core/formats/band-solids.ts';
import { exportFile, type ExportFile } from '#core/formats/export-files.ts';
import { unpackStrata } from '#core/formats/strata-file.ts';
import { zipPieces, type ZipEntry } from '#core/formats/zip-pieces.ts';
import { estimateFile } from '#core/formats/file-sizes.ts';
import { differenceOf } from '#core/heights/difference.ts';
import {
  countEdges,
  countHeights,
  cropHeights,
  paintPrint,
  printedPart,
  thinHeights,
} from '#core/heights/height-map.ts';
import { bandTops, flatOfPicture } from '#core/heights/flat.ts';
import type { ExportRequest } from '#core/plan/export-request.ts';
import { ReliefPlan, type ReliefRequest } from '#core/plan/relief-plan.ts';
import { reliefMesh } from '#core/relief/relief-mesh.ts';
import { findFineParts } from '#core/relief/fine-parts.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { layerTopsMm } from '#core/stack/layer-grid.ts';
import { bandEnds } from '#core/stack/stack.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import {
  MOST_PICTURE_BYTES,
  type DecodedPicture,
  type PictureFault,
} from '../platform/check-picture.ts';
import { PNG_ENCODERS } from '../platform/encode-pictures.ts';
import {
  STAGE_AREA_PX,
  type ArtworkJobs,
  type OpenedArtwork,
  type PrintRequest,
} from './protocol.ts';
import type { Handlers } from './serve.ts';

export type Decode = (
  bytes: Uint8Array<ArrayBuffer>,
) => Promise<Result<DecodedPicture, PictureFault>>;

/** The rectangle that holds all that is printed, as shares; the whole picture where nothing is. */
function boxOf(stage: RgbaRaster): OpenedArtwork['box'] {
  const box = printedBox(stage);
  if (!box) return { left: 0, top: 0, width: 1, height: 1 };
  return {
    left: box.left / stage.width,
    top: box.top / stage.height,
    width: box.width / stage.width,
    height: box.height / stage.height,
  };
}

/** What is counted in a relief. */
function measure(heights: HeightMap): Omit<ArtworkJobs['heights']['output'], 'heights'> {
  const { columns = 0, rows = 0 } = printedPart(heights) ?? {};
  return { counts: countHeights(heights), edges: countEdges(heights), extent: { columns, rows } };
}

/** The jobs on one artwork. The picture stays here; only what the page shows leaves. */
export function artworkHandlers(decode: Decode): Handlers<ArtworkJobs> {
  let opened: ReliefPlan | undefined;

  const plan = (): ReliefPlan => {
    if (!opened) throw new Error('no artwork is open');
    return opened;
  };

  const heightsOf = (request: ReliefRequest, checkpoint: Checkpoint): HeightMap =>
    plan().relief(request, checkpoint).heights;

  const printOf = (
    { request, stack, filaments }: PrintRequest,
    checkpoint: Checkpoint,
  ): RgbaRaster => paintPrint(heightsOf(request, checkpoint), rampOfStack(stack, filaments));

  const sourceOf = (
    { request, crop, ...rest }: ExportRequest,
    checkpoint: Checkpoint,
  ): ReliefSource => {
    const whole = heightsOf(request, checkpoint);
    const heights = crop ? cropHeights(whole) : whole;
    return { ...rest, heights, sampleMm: request.sampleMm };
  };

  return {
    unpack: ({ bytes }) => unpackStrata(bytes, MOST_PICTURE_BYTES),

    open: async ({ bytes }, checkpoint) => {
      const digest = digestBytes(bytes);
      checkpoint(0.1);
      const decoded = await decode(bytes);
      if (!decoded.ok) return decoded;
      const { kind, raster, reducedFrom } = decoded.value;
      checkpoint(0.6);
      const factor = Math.min(1, Math.sqrt(STAGE_AREA_PX / (raster.width * raster.height)));
      const stage = sampleArtwork(
        raster,
        Math.max(1, Math.round(raster.width * factor)),
        Math.max(1, Math.round(raster.height * factor)),
        partOf(checkpoint, 0.6, 1),
      );
      opened = new ReliefPlan(raster);
      const histogram = brightnessHistogram(measureBrightness(stage));
      const opaque = histogram.reduce((sum, count) => sum + count, 0);
      return {
        ok: true,
        value: {
          kind,
          width: raster.width,
          height: raster.height,
          ...(reducedFrom ? { reducedFrom } : {}),
          box: boxOf(stage),
          transparentShare: 1 - opaque / (stage.width * stage.height),
          digest,
          stage,
          histogram,
        },
      };
    },

    heights: (request, checkpoint) => {
      const heights = heightsOf(request, checkpoint);
      return { heights, ...measure(heights) };
    },

    difference: ({ request, stack, filaments }, checkpoint) => {
      const heights = heightsOf(request, partOf(checkpoint, 0, 0.3));
      const { samples } = plan().artwork(request);
      const ramp = rampOfStack(stack, filaments);
      return {
        difference: differenceOf(samples, heights, ramp, partOf(checkpoint, 0.3, 1)) ?? null,
      };
    },

    thumbnail: ({ sidePx, ...wanted }, checkpoint) => {
      const print = printOf(wanted, checkpoint);
      const factor = Math.min(1, sidePx / Math.max(print.width, print.height));
      const small = sampleArtwork(
        print,
        Math.max(1, Math.round(print.width * factor)),
        Math.max(1, Math.round(print.height * factor)),
      );
      return { png: PNG_ENCODERS.picture(small) };
    },

    print: (wanted, checkpoint) => ({
      print: printOf(wanted, checkpoint),
      counts: countHeights(heightsOf(wanted.request, checkpoint)),
    }),

    solid: ({ request, grid, mostSamples, smoothMm }, checkpoint) => {
      const heights = heightsOf(request, partOf(checkpoint, 0, 0.3));
      // Thinned, samples can touch diagonally again.
      const thin = partDiagonals(thinHeights(heights, mostSamples)).heights;
      const thinMm = (request.sampleMm * heights.width) / thin.width;
      const tops = layerTopsMm(grid, MAX_LAYERS);
      const solid = { heights: thin, sampleMm: thinMm, smoothMm };
      const { positions, triangles } = reliefMesh(solid, tops, partOf(checkpoint, 0.3, 1));
      return {
        positions: positions.slice(),
        triangles: triangles.slice(),
        widthMm: thin.width * thinMm,
        heightMm: thin.height * thinMm,
      };
    },

    colours: ({ samples, importance }, checkpoint) => {
      const artwork = plan().artwork(samples, checkpoint);
      const cells = artwork.cells();
      const { colour, count, width, height } = cells;
      const painted = paintImportance(
        importance.map((stroke) => inPiece(stroke, width, height, artwork.pad)),
        width,
        height,
      );
      return {
        colour,
        count,
        ...(painted ? { importance: importanceOfCells(cells, painted) } : {}),
      };
    },

    counts: (request, checkpoint) => measure(heightsOf(request, checkpoint)),

    flatColours: ({ samples, count, stack, filaments }, checkpoint) => {
      const cells = plan()
        .artwork(samples, partOf(checkpoint, 0, 0.3))
        .cells();
      checkpoint(0.3);
      const tops = bandTops(bandEnds(stack.bands), rampOfStack(stack, filaments));
      return { colours: flatOfPicture(cells, count, tops) };
    },

    size: ({ shown, format, ...wanted }, checkpoint) => {
      const whole = heightsOf(shown, checkpoint);
      const finer = wanted.request.columns / whole.width;
      const heights = wanted.crop ? cropHeights(whole) : whole;
      const sampleMm = wanted.request.sampleMm * finer;
      return estimateFile(format, { ...wanted, heights, sampleMm }, finer);
    },

    fineParts: ({ request, lineMm }, checkpoint) =>
      findFineParts(heightsOf(request, checkpoint), request.sampleMm, lineMm),

    files: ({ formats, zip, ...wanted }, checkpoint) => {
      const source = sourceOf(wanted, partOf(checkpoint, 0, 0.3));
      const share = 0.6 / formats.length;
      const files = formats.map((format, i) =>
        exportFile(
          format,
          source,
          PNG_ENCODERS,
          partOf(checkpoint, 0.3 + share * i, 0.3 + share * (i + 1)),
        ),
      );
      return { files: zip ? [zipFiles(files, zip)] : files };
    },
  };
}

/** A stroke over the picture as one over the whole piece, with the space around the picture. */
function inPiece(
  stroke: ImportanceStroke,
  width: number,
  height: number,
  pad: number,
): ImportanceStroke {
  return {
    ...stroke,
    radius: (stroke.radius * (width - 2 * pad)) / width,
    points: stroke.points.map((share, i) => shareInPiece(share, i % 2 === 0 ? width : height, pad)),
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
