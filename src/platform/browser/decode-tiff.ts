import UTIF from 'utif2';
import { uprightRaster } from '#core/artwork/upright.ts';
import { fail, succeed, type Result } from '#core/base/result.ts';
import { firstTiffPage } from '../check-tiff.ts';
import {
  checkPicture,
  reductionOf,
  type DecodedPicture,
  type PictureFault,
} from '../check-picture.ts';
import { sampleArtwork } from '#core/artwork/sample-artwork.ts';

/** Decodes the first page of a TIFF: 8 and 16 bits, the usual compressions, CMYK as the package can. */
export function decodeTiff(bytes: Uint8Array): Result<DecodedPicture, PictureFault> {
  const header = checkPicture(bytes);
  if (!header.ok) return header;
  const page = firstTiffPage(bytes);
  if (!page) return fail('undecodable');
  try {
    const [ifd] = UTIF.decode(page.bytes.buffer);
    if (!ifd) return fail('undecodable');
    UTIF.decodeImage(page.bytes.buffer, ifd);
    const { width, height } = ifd;
    if (width !== page.width || height !== page.height) return fail('undecodable');
    const data = UTIF.toRGBA8(ifd);
    if (data.length < 4 * width * height) return fail('truncated');
    const upright = uprightRaster(
      {
        width,
        height,
        data: new Uint8ClampedArray(data.buffer, data.byteOffset, 4 * width * height),
      },
      page.orientation,
    );
    const factor = reductionOf(upright.width, upright.height);
    if (factor === 1) return succeed({ kind: 'tiff', raster: upright });
    return succeed({
      kind: 'tiff',
      raster: sampleArtwork(
        upright,
        Math.floor(upright.width * factor),
        Math.floor(upright.height * factor),
      ),
      reducedFrom: { width: upright.width, height: upright.height },
    });
  } catch {
    return fail('undecodable');
  }
}
