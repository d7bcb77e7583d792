import {
  brightnessHistogram,
  measureBrightness,
  type BrightnessMap,
} from '#core/artwork/brightness.ts';
import { gatherColours, type ColourCells } from '#core/artwork/colour-cells.ts';
import {
  importanceOfCells,
  paintImportance,
  type ImportanceStroke,
} from '#core/artwork/importance.ts';
import { shareInPiece } from '#core/relief/sampling.ts';
import { padSamples, printedBox, sampleArtwork } from '#core/artwork/sample-artwork.ts';
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
import { heightsByRule } from '#core/heights/height-rules.ts';
import { reliefMesh } from '#core/relief/relief-mesh.ts';
import { findFineParts } from '#core/relief/fine-parts.ts';
import { PLAIN_SHAPE, shapePiece } from '#core/relief/shape.ts';
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
import type { ArtworkJobs, ExportRequest, HeightRequest, OpenedArtwork } from './protocol.ts';
import type { Handlers } from './serve.ts';

/** Most pixels of the picture on the stage, and of the heights shown with it. */
export const STAGE_AREA_PX = 1_050_000;

export type Decode = (
  bytes: Uint8Array<ArrayBuffer>,
) => Promise<Result<DecodedPicture, PictureFault>>;

/** A picture sampled for the relief, with what rules need of it. */
interface SampledArtwork {
  readonly samples: RgbaRaster;
  readonly pad: number;
  readonly brightness: BrightnessMap;
  readonly cells: () => ColourCells;
}

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
  let picture: RgbaRaster | undefined;
  let sampled: SampledArtwork | undefined;
  let last: HeightMap | undefined;
  /** What the last heights were asked with. */
  let lastKey = '';

  const sample = (
    { columns, rows, pad = 0 }: HeightRequest,
    checkpoint: Checkpoint,
  ): SampledArtwork => {
    if (!picture) throw new Error('no artwork is open');
    // Only the last size is kept: it changes rarely, and a rule changes often.
    if (
      sampled?.samples.width !== columns ||
      sampled.samples.height !== rows ||
      sampled.pad !== pad
    ) {
      const inner = sampleArtwork(picture, columns - 2 * pad, rows - 2 * pad, checkpoint);
      const samples = padSamples(inner, pad);
      let cells: ColourCells | undefined;
      sampled = {
        samples,
        pad,
        brightness: measureBrightness(samples),
        cells: () => (cells ??= gatherColours(samples)),
      };
    }
    return sampled;
  };

  const heightsOf = (request: HeightRequest, checkpoint: Checkpoint): HeightMap => {
    const artwork = sample(request, partOf(checkpoint, 0, 0.3));
    const { shape = PLAIN_SHAPE, detailMm, layers } = request;
    const picture = heightsByRule(artwork, request.rule, request, checkpoint);
    return partDiagonals(shapePiece(picture, shape, detailMm, layers)).heights;
  };

  const finalHeights = (request: HeightRequest, checkpoint: Checkpoint): HeightMap => {
    // Nothing is worked out twice: what is shown is often the finished relief itself.
    if (last && JSON.stringify(request) === lastKey) return last;
    const kept = sampled;
    try {
      return heightsOf(request, checkpoint);
    } finally {
      // The stage goes on with its own, possibly coarser, samples.
      sampled = kept;
    }
  };

  const sourceOf = (
    { request, crop, ...rest }: ExportRequest,
    checkpoint: Checkpoint,
  ): ReliefSource => {
    const whole = finalHeights(request, checkpoint);
    const heights = crop ? cropHeights(whole) : whole;
    return { ...rest, heights, detailMm: request.detailMm };
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
      picture = raster;
      sampled = undefined;
      last = undefined;
      lastKey = '';
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
      last = heights;
      lastKey = JSON.stringify(request);
      return { heights, ...measure(heights) };
    },

    difference: ({ stack, filaments }, checkpoint) => {
      if (!sampled || !last) return { difference: null };
      const ramp = rampOfStack(stack, filaments);
      return { difference: differenceOf(sampled.samples, last, ramp, checkpoint) ?? null };
    },

    thumbnail: ({ stack, filaments, sidePx }) => {
      if (!last) return { png: null };
      const print = paintPrint(last, rampOfStack(stack, filaments));
      const factor = Math.min(1, sidePx / Math.max(print.width, print.height));
      const small = sampleArtwork(
        print,
        Math.max(1, Math.round(print.width * factor)),
        Math.max(1, Math.round(print.height * factor)),
      );
      return { png: PNG_ENCODERS.picture(small) };
    },

    print: ({ request, stack, filaments }, checkpoint) => {
      const heights = finalHeights(request, checkpoint);
      return {
        print: paintPrint(heights, rampOfStack(stack, filaments)),
        counts: countHeights(heights),
      };
    },

    solid: ({ grid, detailMm, mostSamples, smoothMm }, checkpoint) => {
      if (!last) return { shape: null };
      // Thinned, samples can touch diagonally again.
      const thin = partDiagonals(thinHeights(last, mostSamples)).heights;
      const thinMm = (detailMm * last.width) / thin.width;
      const tops = layerTopsMm(grid, MAX_LAYERS);
      const solid = { heights: thin, detailMm: thinMm, smoothMm };
      const { positions, triangles } = reliefMesh(solid, tops, checkpoint);
      const shape = {
        positions: positions.slice(),
        triangles: triangles.slice(),
        widthMm: thin.width * thinMm,
        heightMm: thin.height * thinMm,
      };
      return { shape };
    },

    colours: ({ importance }) => {
      const cells = sampled?.cells();
      if (!cells) throw new Error('no artwork is sampled');
      const { colour, count, width, height } = cells;
      const painted = paintImportance(
        importance.map((stroke) => inPiece(stroke, width, height, sampled?.pad ?? 0)),
        width,
        height,
      );
      return {
        colour,
        count,
        ...(painted ? { importance: importanceOfCells(cells, painted) } : {}),
      };
    },

    counts: (request, checkpoint) => {
      return measure(finalHeights(request, checkpoint));
    },

    flatColours: ({ count, stack, filaments }, checkpoint) => {
      const cells = sampled?.cells();
      if (!cells) throw new Error('no artwork is sampled');
      checkpoint(0.3);
      const tops = bandTops(bandEnds(stack.bands), rampOfStack(stack, filaments));
      return { colours: flatOfPicture(cells, count, tops) };
    },

    size: ({ format, ...wanted }) => {
      if (!last) return { size: null };
      const finer = wanted.request.columns / last.width;
      const heights = wanted.crop ? cropHeights(last) : last;
      const detailMm = wanted.request.detailMm * finer;
      return { size: estimateFile(format, { ...wanted, heights, detailMm }, finer) };
    },

    fineParts: ({ detailMm, lineMm }) => ({
      parts: last ? findFineParts(last, detailMm, lineMm) : null,
    }),

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
