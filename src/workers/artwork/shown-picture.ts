import { brightnessHistogram, measureBrightness } from '#core/artwork/brightness.ts';
import { printedBox, sampleArtwork } from '#core/artwork/sample-artwork.ts';
import type { Checkpoint } from '#core/base/checkpoint.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import type { EditedArtwork } from './edit-jobs.ts';
import { STAGE_AREA_PX } from './jobs.ts';

/** The rectangle that holds all that is printed, as shares; the whole picture where nothing is. */
function boxOf(stage: RgbaRaster): EditedArtwork['box'] {
  const box = printedBox(stage);
  if (!box) return { left: 0, top: 0, width: 1, height: 1 };
  return {
    left: box.left / stage.width,
    top: box.top / stage.height,
    width: box.width / stage.width,
    height: box.height / stage.height,
  };
}

/** What the page shows and tells of a picture. */
export function shownPicture(
  raster: RgbaRaster,
  size: { readonly width: number; readonly height: number },
  checkpoint: Checkpoint,
): EditedArtwork {
  const factor = Math.min(1, Math.sqrt(STAGE_AREA_PX / (raster.width * raster.height)));
  const stage = sampleArtwork(
    raster,
    Math.max(1, Math.round(raster.width * factor)),
    Math.max(1, Math.round(raster.height * factor)),
    checkpoint,
  );
  const histogram = brightnessHistogram(measureBrightness(stage));
  const opaque = histogram.reduce((sum, count) => sum + count, 0);
  return {
    width: size.width,
    height: size.height,
    box: boxOf(stage),
    transparentShare: 1 - opaque / (stage.width * stage.height),
    stage,
    histogram,
  };
}
