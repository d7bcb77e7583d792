import type { SvgShape } from '#core/tags/svg-shapes.ts';
import { MOST_PICTURE_BYTES } from '../../platform/check-picture.ts';
import { describePictureShapesFault } from '../../platform/tag-words.ts';
import type { ArtworkWorker } from '../../workers/start-worker.ts';
import { toast } from '../../ui/toast.ts';

/** Largest drawing that is taken, bytes. */
const MOST_BYTES = 5_000_000;

/** Kinds of files that give outlines. */
export const DRAWING_KINDS = '.svg,image/svg+xml,image/png,image/jpeg,image/webp';

/** What a drawing or a picture gives. */
export interface ReadDrawing {
  /** By colour. */
  readonly shapes: readonly SvgShape[];
  /** The line around all of it, of a picture. */
  readonly contour: SvgShape | null;
}

/**
 * The filled forms of an SVG file, or the flat areas of a picture, by colour; undefined where it cannot be taken, which is said.
 * @param worker traces pictures
 */
export async function readDrawing(
  file: File,
  worker: Pick<ArtworkWorker, 'run'>,
): Promise<ReadDrawing | undefined> {
  if (!/svg/i.test(file.type) && !/\.svg$/i.test(file.name)) return readPicture(file, worker);
  if (file.size > MOST_BYTES) {
    toast.error(`${file.name} is larger than 5 MB. Simplify the drawing.`);
    return undefined;
  }
  const { readSvgShapes } = await import('../../platform/svg-shapes.ts');
  const read = readSvgShapes(await file.text());
  if (read.ok) return { shapes: read.value, contour: null };
  toast.error(`${file.name}: ${read.fault.detail ?? read.fault.code}`, { duration: 9000 });
  return undefined;
}

async function readPicture(
  file: File,
  worker: Pick<ArtworkWorker, 'run'>,
): Promise<ReadDrawing | undefined> {
  if (file.size > MOST_PICTURE_BYTES) {
    toast.error(`${file.name} is too large to be traced. Make it smaller first.`);
    return undefined;
  }
  const bytes = new Uint8Array(await file.arrayBuffer());
  const read = await worker.run('pictureShapes', { bytes });
  if (read.ok) return read.value;
  toast.error(`${file.name}: ${describePictureShapesFault(read.fault)}`, { duration: 9000 });
  return undefined;
}
