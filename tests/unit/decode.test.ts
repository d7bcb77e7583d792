import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { checkPicture, reductionOf } from '../../src/platform/check-picture.ts';
import { describePictureFault } from '../../src/platform/fault-words.ts';
import { decodePicture } from '../../src/platform/node/decode-picture.ts';
import {
  bmpColour,
  EXPECTED_PICTURES,
  fixture,
  makeBmp,
  meanDifference,
  oddPictures,
} from '../helpers/pictures.ts';

const read = (name: string): Buffer => readFileSync(fixture(name));

describe('pictures', () => {
  for (const [name, wanted] of Object.entries(EXPECTED_PICTURES)) {
    it(`${name}: size, cut-away share and colours as two other decoders read them`, async () => {
      const result = await decodePicture(read(name));
      if (!result.ok) throw new Error(result.fault.code);
      const { width, height, data } = result.value;
      expect([width, height]).to.deep.equal([wanted.width, wanted.height]);
      const sums = [0, 0, 0];
      let opaque = 0;
      for (let at = 0; at < data.length; at += 4) {
        if ((data[at + 3] as number) < 128) continue;
        opaque += 1;
        for (let k = 0; k < 3; k += 1) sums[k] = (sums[k] ?? 0) + (data[at + k] as number);
      }
      expect(opaque / (width * height)).to.be.closeTo(wanted.opaqueShare, 0.01);
      sums.forEach((sum, k) => expect(sum / opaque).to.be.closeTo(wanted.meanRgb[k] ?? -1, 2));
    });
  }

  it('BMP: every pixel in its place, opaque', async () => {
    const result = await decodePicture(makeBmp(33, 20));
    if (!result.ok) throw new Error(result.fault.code);
    const { width, height, data } = result.value;
    expect([width, height]).to.deep.equal([33, 20]);
    for (let i = 0; i < 33 * 20; i += 1) {
      const [green, red] = bmpColour(33, 20, i % 33, Math.floor(i / 33));
      expect([...data.slice(i * 4, i * 4 + 4)]).to.deep.equal([red, green, 128, 255]);
    }
    const cut = checkPicture(makeBmp(33, 20).subarray(0, 900));
    expect(cut.ok ? 'ok' : cut.fault.code).to.equal('truncated');
  });

  it('pictures that decoders read differently are read as the standards say', async () => {
    for (const { name, bytes, width, height, pixels } of await oddPictures()) {
      const result = await decodePicture(bytes);
      if (!result.ok) throw new Error(`${name}: ${result.fault.code}`);
      expect([result.value.width, result.value.height], name).to.deep.equal([width, height]);
      expect(meanDifference(result.value.data, pixels), name).to.be.at.most(0.5);
    }
  });

  it('a drawing is the same whatever size it says of itself', async () => {
    const inner =
      '<rect width="50" height="100" fill="red"/><path d="M50 0h50v100H50z" fill="#00f"/>';
    const drawn = async (root: string): Promise<Uint8Array | Uint8ClampedArray> => {
      const result = await decodePicture(Buffer.from(`${root}${inner}</svg>`));
      if (!result.ok) throw new Error(`${root}: ${result.fault.code} ${result.fault.detail ?? ''}`);
      expect([result.value.width, result.value.height], root).to.deep.equal([2400, 2400]);
      return result.value.data;
    };
    const ns = 'xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"';
    const usual = await drawn(`<svg ${ns} width="100" height="100">`);
    expect([...usual.subarray(0, 4)]).to.deep.equal([255, 0, 0, 255]);
    for (const root of [
      `<svg ${ns}>`,
      `<svg ${ns} width="1000000000" height="1000000000">`,
      `<svg width='1e20' height='1e20' ${ns}>`,
      `<?xml version="1.0"?>\n<!-- <svg width="5"> -->\n<svg height="0.0001" ${ns} width="0.0001">`,
      `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">`,
    ])
      expect(meanDifference(await drawn(root), usual), root).to.equal(0);
  });

  it('a preview inside a JPEG does not make a cut file whole', () => {
    const whole = read('s20_exif_orientation_6.jpg');
    const preview = Buffer.concat([
      whole.subarray(0, 2),
      Buffer.from([0xff, 0xe2, 0x00, 0x08, 0xff, 0xd8, 0, 0, 0xff, 0xd9]),
      whole.subarray(2),
    ]);
    expect(checkPicture(preview).ok).to.equal(true);
    const cut = checkPicture(preview.subarray(0, preview.length - 400));
    expect(cut.ok ? 'ok' : cut.fault.code).to.equal('truncated');
  });

  it('says what is wrong with files that are no good', () => {
    const codeOf = (bytes: Uint8Array): string => {
      const result = checkPicture(bytes);
      return result.ok ? 'ok' : result.fault.code;
    };
    expect(codeOf(read('xs_zero_bytes.png'))).to.equal('empty');
    expect(codeOf(read('xs_text.png'))).to.equal('not-a-picture');
    expect(codeOf(read('xs_truncated.jpg'))).to.equal('truncated');
    expect(codeOf(read('xs_bomb_header_50000.png'))).to.equal('too-many-pixels');
    for (const name of Object.keys(EXPECTED_PICTURES)) {
      const bytes = read(name);
      expect(codeOf(bytes), name).to.equal('ok');
      if (bytes.length > 500)
        expect(codeOf(bytes.subarray(0, Math.floor(bytes.length * 0.6))), `${name} cut`).to.equal(
          'truncated',
        );
    }
  });

  it('names the dimensions it refuses, and reduces what is merely large', () => {
    const bomb = checkPicture(read('xs_bomb_header_50000.png'));
    expect(bomb.ok ? '' : describePictureFault(bomb.fault)).to.contain('50000 x 50000');
    expect(reductionOf(8000, 5000)).to.equal(1);
    expect(reductionOf(16000, 10000)).to.be.closeTo(0.5, 1e-9);
  });
});
