import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { checkPicture, looksLikeSvg } from '../../src/platform/check-picture.ts';
import { checkSvg } from '../../src/platform/check-svg.ts';
import { drawnSize, mostDrawnPx } from '../../src/platform/drawn-size.ts';
import { firstTiffPage } from '../../src/platform/check-tiff.ts';
import { decodeTiff } from '../../src/platform/browser/decode-tiff.ts';
import { decodePicture } from '../../src/platform/node/decode-picture.ts';
import { fixture } from '../helpers/pictures.ts';

const text = (svg: string): Uint8Array<ArrayBuffer> => new TextEncoder().encode(svg);
const svg = (inner: string, attributes = 'viewBox="0 0 20 10"'): Uint8Array<ArrayBuffer> =>
  text(`<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${inner}</svg>`);

/** The code of a refusal; the size where it is taken. */
function verdict(bytes: Uint8Array): string {
  const checked = checkSvg(bytes);
  return checked.ok ? `${checked.value.width} x ${checked.value.height}` : checked.fault.code;
}

describe('drawings before they are drawn', () => {
  it('are known by their beginning, whatever their name is', () => {
    expect(looksLikeSvg(svg(''))).to.equal(true);
    expect(looksLikeSvg(text('<?xml version="1.0"?><!-- a --><svg:svg xmlns:svg="x"/>'))).to.equal(
      true,
    );
    expect(looksLikeSvg(text('<html><body>svg</body></html>'))).to.equal(false);
    const checked = checkPicture(svg(''));
    expect(checked.ok && checked.value.kind).to.equal('svg');
  });

  it('have their size from width and height, or from the viewBox', () => {
    expect(verdict(svg('<rect/>'))).to.equal('20 x 10');
    expect(verdict(svg('', 'width="30mm" height="60mm"'))).to.equal('30 x 60');
    expect(verdict(svg('', 'width="100%" height="100%" viewBox="0,0,4,8"'))).to.equal('4 x 8');
    expect(verdict(svg('', ''))).to.equal('svg-no-size');
    expect(verdict(svg('', 'viewBox="0 0 9000 1"'))).to.equal('too-many-pixels');
    const wide = { width: 20, height: 10 };
    expect(drawnSize(wide)).to.deep.equal({ width: 2400, height: 1200 });
    expect(drawnSize(wide, 5000)).to.deep.equal({ width: 5000, height: 2500 });
    // Never coarser than usual, and never more than the working area.
    expect(drawnSize(wide, 7)).to.deep.equal({ width: 2400, height: 1200 });
    const most = drawnSize(wide, 1e9);
    expect(most.width).to.equal(mostDrawnPx(wide));
    expect(most.width * most.height).to.be.within(39_900_000, 40_000_000);
  });

  it('that would not end, or are of another kind, are refused', () => {
    const bomb = Array.from(
      { length: 30 },
      (_, i) => `<g id="g${i + 1}"><use href="#g${i}"/><use href="#g${i}"/></g>`,
    ).join('');
    expect(verdict(svg(`<g id="g0"><rect/></g>${bomb}`))).to.equal('svg-unsafe');
    expect(verdict(svg('<g id="a"><use href="#a"/></g>'))).to.equal('svg-unsafe');
    expect(verdict(svg('<foreignObject/>'))).to.equal('svg-unsafe');
    expect(verdict(text(`<!DOCTYPE svg [<!ENTITY a "b">]><svg viewBox="0 0 1 1"/>`))).to.equal(
      'svg-unsafe',
    );
    expect(verdict(text('<svg viewBox="0 0 1 1"'))).to.not.match(/x/);
    // The same shape many times is no harm.
    const uses = '<use href="#a"/>'.repeat(500);
    expect(verdict(svg(`<rect id="a"/>${uses}`))).to.equal('20 x 10');
  });

  it('come out in their colours and with what is transparent', async () => {
    const decoded = await decodePicture(svg('<rect width="10" height="10" fill="#c8102e"/>'));
    if (!decoded.ok) throw new Error(decoded.fault.code);
    const { width, height, data } = decoded.value;
    expect([width, height]).to.deep.equal([2400, 1200]);
    const at = 4 * (600 * 2400 + 600);
    expect([...data.subarray(at, at + 4)]).to.deep.equal([0xc8, 0x10, 0x2e, 255]);
    expect(data[4 * (600 * 2400 + 1800) + 3]).to.equal(0);
  });
});

describe('TIFF, against the library of the command line', () => {
  const colours = Uint8Array.from({ length: 3 * 40 * 30 }, (_, i) => (i * 7) % 256);
  const made = sharp(colours, { raw: { width: 40, height: 30, channels: 3 } });

  for (const compression of ['none', 'lzw', 'deflate'] as const)
    it(`of 8 bits, ${compression}`, async () => {
      const bytes = new Uint8Array(await made.clone().tiff({ compression }).toBuffer());
      const own = decodeTiff(bytes);
      const truth = await decodePicture(bytes);
      if (!own.ok || !truth.ok) throw new Error('not decoded');
      expect([own.value.raster.width, own.value.raster.height]).to.deep.equal([40, 30]);
      expect(Buffer.from(own.value.raster.data).equals(Buffer.from(truth.value.data))).to.equal(
        true,
      );
    });

  it('of 16 bits', async () => {
    const bytes = new Uint8Array(
      await made.clone().toColourspace('rgb16').tiff({ compression: 'lzw' }).toBuffer(),
    );
    const own = decodeTiff(bytes);
    const truth = await decodePicture(bytes);
    if (!own.ok || !truth.ok) throw new Error('not decoded');
    let most = 0;
    own.value.raster.data.forEach((one, i) => {
      most = Math.max(most, Math.abs(one - (truth.value.data[i] ?? 0)));
    });
    expect(most).to.be.at.most(1);
  });

  it('a real file; its size is that of its first page', async () => {
    const bytes = new Uint8Array(readFileSync(fixture('s28_coffee.tif')));
    const own = decodeTiff(bytes);
    const truth = await decodePicture(bytes);
    if (!own.ok || !truth.ok) throw new Error('not decoded');
    expect(Buffer.from(own.value.raster.data).equals(Buffer.from(truth.value.data))).to.equal(true);
  });

  it('directories that lead to themselves end, and what is cut off is refused', async () => {
    const bytes = new Uint8Array(await made.clone().tiff({ compression: 'none' }).toBuffer());
    const view = new DataView(bytes.buffer);
    const little = bytes[0] === 0x49;
    const first = view.getUint32(4, little);
    const count = view.getUint16(first, little);
    view.setUint32(first + 2 + 12 * count, first, little);
    const page = firstTiffPage(bytes);
    expect(page && [page.width, page.height]).to.deep.equal([40, 30]);
    expect(decodeTiff(bytes).ok).to.equal(true);
    expect(firstTiffPage(bytes.slice(0, first + 4))).to.equal(undefined);
    expect(decodeTiff(bytes.slice(0, 20)).ok).to.equal(false);
  });
});
