import { encode as encodePng } from 'fast-png';
import {
  brightnessHistogram,
  measureBrightness,
  type BrightnessMap,
} from '#core/artwork/brightness.ts';
import { gatherColours, type ColourCells } from '#core/artwork/colour-cells.ts';
import { sampleArtwork } from '#core/artwork/sample-artwork.ts';
import { partOf, type Checkpoint } from '#core/base/checkpoint.ts';
import type { HeightMap, RgbaRaster } from '#core/base/raster.ts';
import type { Result } from '#core/base/result.ts';
import { digestBytes } from '#core/base/stamp.ts';
import { reliefStl } from '#core/formats/relief-files.ts';
import { differenceOf } from '#core/heights/difference.ts';
import { countHeights, paintPrint } from '#core/heights/height-map.ts';
import { bandTops, flatOfPicture } from '#core/heights/flat.ts';
import { heightsByRule } from '#core/heights/height-rules.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { bandEnds } from '#core/stack/stack.ts';
import { rampOfStack } from '#core/stack/stack-ramp.ts';
import type { DecodedPicture, PictureFault } from '../platform/check-picture.ts';
import type { ArtworkJobs, HeightRequest } from './protocol.ts';
import type { Handlers } from './serve.ts';

/** Most pixels of the picture on the stage, and of the heights shown with it. */
export const STAGE_AREA_PX = 1_050_000;

export type Decode = (
  bytes: Uint8Array<ArrayBuffer>,
) => Promise<Result<DecodedPicture, PictureFault>>;

/** A picture sampled for the relief, with what rules need of it. */
interface SampledArtwork {
  readonly samples: RgbaRaster;
  readonly brightness: BrightnessMap;
  readonly cells: () => ColourCells;
}

/** The jobs on one artwork. The picture stays here; only what the page shows leaves. */
export function artworkHandlers(decode: Decode): Handlers<ArtworkJobs> {
  let picture: RgbaRaster | undefined;
  let sampled: SampledArtwork | undefined;
  let last: HeightMap | undefined;

  const sample = (columns: number, rows: number, checkpoint: Checkpoint): SampledArtwork => {
    if (!picture) throw new Error('no artwork is open');
    // Only the last size is kept: it changes rarely, and a rule changes often.
    if (sampled?.samples.width !== columns || sampled.samples.height !== rows) {
      const samples = sampleArtwork(picture, columns, rows, checkpoint);
      let cells: ColourCells | undefined;
      sampled = {
        samples,
        brightness: measureBrightness(samples),
        cells: () => (cells ??= gatherColours(samples)),
      };
    }
    return sampled;
  };

  const heightsOf = (request: HeightRequest, checkpoint: Checkpoint): HeightMap => {
    const artwork = sample(request.columns, request.rows, partOf(checkpoint, 0, 0.3));
    return partDiagonals(heightsByRule(artwork, request.rule, request, checkpoint)).heights;
  };

  const finalHeights = (request: HeightRequest, checkpoint: Checkpoint): HeightMap => {
    const kept = sampled;
    try {
      return heightsOf(request, checkpoint);
    } finally {
      // The stage goes on with its own, possibly coarser, samples.
      sampled = kept;
    }
  };

  return {
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
      const histogram = brightnessHistogram(measureBrightness(stage));
      const opaque = histogram.reduce((sum, count) => sum + count, 0);
      return {
        ok: true,
        value: {
          kind,
          width: raster.width,
          height: raster.height,
          ...(reducedFrom ? { reducedFrom } : {}),
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
      return { heights, counts: countHeights(heights) };
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
      return {
        png: encodePng({ ...small, channels: 4, depth: 8 }) as Uint8Array<ArrayBuffer>,
      };
    },

    counts: (request, checkpoint) => ({ counts: countHeights(finalHeights(request, checkpoint)) }),

    flatColours: ({ count, stack, filaments }, checkpoint) => {
      const cells = sampled?.cells();
      if (!cells) throw new Error('no artwork is sampled');
      checkpoint(0.3);
      const tops = bandTops(bandEnds(stack.bands), rampOfStack(stack, filaments));
      return { colours: flatOfPicture(cells, count, tops) };
    },

    stl: ({ request, stack, filaments, title, stamp }, checkpoint) => {
      const heights = finalHeights(request, partOf(checkpoint, 0, 0.4));
      return reliefStl(
        { heights, stack, filaments, detailMm: request.detailMm, stamp, title },
        partOf(checkpoint, 0.4, 1),
      );
    },
  };
}
