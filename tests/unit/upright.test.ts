import { expect } from 'chai';
import sharp from 'sharp';
import { uprightRaster, type Orientation } from '#core/artwork/upright.ts';
import { orientationOfWebp } from '../../src/platform/webp-orientation.ts';

/** A picture of 3 x 2 pixels that are all different. */
const PIXELS = Uint8Array.from({ length: 24 }, (_, i) => (i % 4 === 3 ? 255 : 10 * i + 5));

describe('WebP files that lie on a side', () => {
  for (let orientation = 1; orientation <= 8; orientation += 1)
    it(`orientation ${orientation} is read and turned as another library does it`, async () => {
      const file = await sharp(PIXELS, { raw: { width: 3, height: 2, channels: 4 } })
        .webp({ lossless: true, exact: true })
        .withMetadata({ orientation })
        .toBuffer();
      const bytes = new Uint8Array(file);
      expect(orientationOfWebp(bytes)).to.equal(orientation);
      const stored = await sharp(file).ensureAlpha().raw().toBuffer();
      const upright = await sharp(file)
        .autoOrient()
        .ensureAlpha()
        .raw()
        .toBuffer({ resolveWithObject: true });
      const own = uprightRaster(
        { width: 3, height: 2, data: new Uint8Array(stored) },
        orientation as Orientation,
      );
      expect([own.width, own.height]).to.deep.equal([upright.info.width, upright.info.height]);
      expect([...own.data]).to.deep.equal([...upright.data]);
    });

  it('what says nothing, or is cut off, counts as upright', async () => {
    const plain = await sharp(PIXELS, { raw: { width: 3, height: 2, channels: 4 } })
      .webp()
      .toBuffer();
    expect(orientationOfWebp(new Uint8Array(plain))).to.equal(1);
    const turned = await sharp(PIXELS, { raw: { width: 3, height: 2, channels: 4 } })
      .webp({ lossless: true })
      .withMetadata({ orientation: 6 })
      .toBuffer();
    for (let length = 0; length < turned.length; length += 1)
      expect(orientationOfWebp(new Uint8Array(turned.subarray(0, length)))).to.be.oneOf([1, 6]);
  });
});
