import { toast } from 'sonner';
import type { SvgShape } from '#core/tags/svg-shapes.ts';

/** Largest drawing that is taken, bytes. */
const MOST_BYTES = 5_000_000;

/** The filled forms of an SVG file by colour; undefined where it cannot be taken, which is said. */
export async function readDrawing(file: File): Promise<readonly SvgShape[] | undefined> {
  if (file.size > MOST_BYTES) {
    toast.error(`${file.name} is larger than 5 MB. Simplify the drawing.`);
    return undefined;
  }
  const { readSvgShapes } = await import('../../platform/svg-shapes.ts');
  const read = readSvgShapes(await file.text());
  if (read.ok) return read.value;
  toast.error(`${file.name}: ${read.fault.detail ?? read.fault.code}`, { duration: 9000 });
  return undefined;
}
