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

/** Number of the tag with the bits of a sample (TIFF 6.0). */
const BITS = 't258';

/**
 * Rounds samples of 16 bits to 8, in place: what the package does with them is to cut them. Both bytes get the rounded value,
 * so that the cut one is that.
 */
function roundSamples(ifd: { readonly data: Uint8Array }): void {
  const bits = (ifd as unknown as Readonly<Record<string, ArrayLike<number> | undefined>>)[BITS];
  if (bits?.[0] !== 16) return;
  const { data } = ifd;
  for (let i = 0; i + 1 < data.length; i += 2)
    data.fill(Math.round(((data[i + 1] as number) * 256 + (data[i] as number)) / 257), i, i + 2);
}

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
    roundSamples(ifd);
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
