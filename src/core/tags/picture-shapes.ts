import { sampleArtwork } from '../artwork/sample-artwork.ts';
import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap, RgbaRaster } from '../base/raster.ts';
import { fail, succeed, type Result } from '../base/result.ts';
import { reduceColours } from '../edit/flat/reduce-colours.ts';
import { partDiagonals } from '../relief/part-diagonals.ts';
import { outlinesWhere, smoothOutlines } from '../relief/smooth-outlines.ts';
import { MOST_SVG_COLOURS, type SvgShape, type SvgShapesFault } from './svg-shapes.ts';
import { LONGEST_PATH } from './outline-kinds.ts';

/** Longer side of the picture that is traced, px: on a tag of 60 mm a pixel is a sixth of a line. */
const TRACED_PX = 800;
/** How far a traced outline may move by being simplified, px. */
const SIMPLE_PX = 0.6;
/** Areas smaller than this share of the picture are specks. */
const LEAST_SHARE = 0.0004;
/** A colour along this share of the rim is what the picture lies on. */
const GROUND_SHARE = 0.6;
/** No colour: cut away. */
const NONE = 255;

/** What a picture gives a tag. */
export interface PictureShapes {
  /** Its flat areas, by colour, without what it lies on. */
  readonly shapes: readonly SvgShape[];
  /** The line around all of it, without holes. */
  readonly contour: SvgShape;
}

/**
 * The flat areas of a picture as outlines: it is reduced to a few colours as the Artwork stop does it, and these are traced with smooth
 * outlines that neighbours share. What lies along most of the rim is taken for the ground and left out, unless the picture is cut out.
 * @throws Cancelled from the checkpoint
 */
export function shapesOfPicture(
  picture: RgbaRaster,
  checkpoint: Checkpoint = noCheckpoint,
): Result<PictureShapes, SvgShapesFault> {
  const scale = Math.min(1, TRACED_PX / Math.max(picture.width, picture.height));
  const side = (px: number): number => Math.max(1, Math.round(px * scale));
  const small = sampleArtwork(picture, side(picture.width), side(picture.height));
  const settings = { count: null, thin: false, palette: null };
  let reduced = reduceColours(small, settings, partOf(checkpoint, 0, 0.5));
  if (reduced.palette.length > MOST_SVG_COLOURS)
    reduced = reduceColours(
      small,
      { ...settings, count: MOST_SVG_COLOURS },
      partOf(checkpoint, 0.5, 0.6),
    );
  const { labels, palette } = reduced;
  const ground = groundOf(labels, small.width, small.height);
  const data = labels.map((label) => (label === NONE || label === ground ? 0 : label + 1));
  const map: HeightMap = { width: small.width, height: small.height, data };
  const outlines = smoothOutlines(partDiagonals(map).heights, SIMPLE_PX);
  const least = LEAST_SHARE * small.width * small.height;
  const shapes = palette.flatMap(({ colour }, i): SvgShape[] => {
    const rings = outlinesWhere(outlines, (label) => label === i + 1);
    const shape = shapeOf(
      rings.filter((ring) => Math.abs(areaOf(ring)) >= least),
      colour,
    );
    return shape ? [shape] : [];
  });
  checkpoint(1);
  // Outer lines run clockwise as seen in the picture, y down: their area is positive.
  const around = outlinesWhere(outlines, (label) => label > 0).filter(
    (ring) => areaOf(ring) >= least,
  );
  const contour = shapeOf(around, null);
  if (!contour || shapes.length === 0) return fail('no-shapes');
  const longest = Math.max(contour.path.length, ...shapes.map(({ path }) => path.length));
  return longest > LONGEST_PATH ? fail('too-long') : succeed({ shapes, contour });
}

/** The colour that most of the rim has; undefined where none has, and where the picture is cut out. */
function groundOf(labels: Uint8Array, width: number, height: number): number | undefined {
  const counts = new Map<number, number>();
  let rim = 0;
  for (let y = 0; y < height; y += 1) {
    const step = y === 0 || y === height - 1 ? 1 : Math.max(1, width - 1);
    for (let x = 0; x < width; x += step) {
      const label = labels[y * width + x] as number;
      counts.set(label, (counts.get(label) ?? 0) + 1);
      rim += 1;
    }
  }
  const [most] = [...counts].sort((a, b) => b[1] - a[1]);
  return most && most[0] !== NONE && most[1] >= GROUND_SHARE * rim ? most[0] : undefined;
}

/** Area of a ring, positive where it runs clockwise as seen with y down. */
function areaOf(ring: readonly number[]): number {
  let twice = 0;
  for (let n = 0; n < ring.length; n += 2) {
    const m = (n + 2) % ring.length;
    twice +=
      (ring[n] as number) * (ring[m + 1] as number) - (ring[m] as number) * (ring[n + 1] as number);
  }
  return twice / 2;
}

function shapeOf(rings: readonly (readonly number[])[], colour: string | null): SvgShape | null {
  if (rings.length === 0) return null;
  const xs = rings.flatMap((ring) => ring.filter((_, n) => n % 2 === 0));
  const ys = rings.flatMap((ring) => ring.filter((_, n) => n % 2 === 1));
  const ends = (values: readonly number[]): readonly [number, number] => [
    values.reduce((least, one) => Math.min(least, one), Infinity),
    values.reduce((most, one) => Math.max(most, one), -Infinity),
  ];
  const [left, right] = ends(xs);
  const [top, bottom] = ends(ys);
  const round = (px: number): number => Math.round(px * 100) / 100;
  const path = rings
    .map((ring) => {
      const points: string[] = [];
      for (let n = 0; n < ring.length; n += 2)
        points.push(`${round(ring[n] as number)} ${round(ring[n + 1] as number)}`);
      return `M${points.join('L')}Z`;
    })
    .join('');
  return {
    path,
    fill: 'evenodd',
    colour,
    left,
    top,
    width: right - left,
    height: bottom - top,
  };
}
