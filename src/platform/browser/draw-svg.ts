import type { RgbaRaster } from '#core/base/raster.ts';
import { fail, succeed, type Result } from '#core/base/result.ts';
import { checkSvg } from '../check-svg.ts';
import { drawnSize } from '../drawn-size.ts';
import type { PictureFault } from '../check-picture.ts';

/**
 * Draws an SVG with the browser's own picture element, on the page: there no script of it runs and nothing outside is loaded, and
 * workers have none.
 * @param longerPx pixels that its longer side should have; see `drawnSize`
 */
export async function drawSvg(
  bytes: Uint8Array,
  longerPx?: number,
): Promise<Result<RgbaRaster, PictureFault>> {
  const checked = checkSvg(bytes);
  if (!checked.ok) return checked;
  const { text, width, height } = checked.value;
  const size = drawnSize(checked.value, longerPx);
  const drawing = new DOMParser().parseFromString(text, 'image/svg+xml');
  const root = drawing.documentElement;
  if (root.localName !== 'svg') return fail('undecodable');
  if (!root.hasAttribute('viewBox')) root.setAttribute('viewBox', `0 0 ${width} ${height}`);
  root.setAttribute('width', String(size.width));
  root.setAttribute('height', String(size.height));
  for (const element of drawing.querySelectorAll('script')) element.remove();
  const blob = new Blob([new XMLSerializer().serializeToString(drawing)], {
    type: 'image/svg+xml',
  });
  const url = URL.createObjectURL(blob);
  try {
    const image = new Image(size.width, size.height);
    image.src = url;
    await image.decode();
    const canvas = new OffscreenCanvas(size.width, size.height);
    const context = canvas.getContext('2d', { colorSpace: 'srgb' });
    if (!context) return fail('undecodable');
    context.drawImage(image, 0, 0, size.width, size.height);
    return succeed(context.getImageData(0, 0, size.width, size.height));
  } catch {
    return fail('undecodable');
  } finally {
    URL.revokeObjectURL(url);
  }
}
