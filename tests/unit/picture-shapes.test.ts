import { expect } from 'chai';
import sharp from 'sharp';
import type { RgbaRaster } from '#core/base/raster.ts';
import { shapesOfPicture } from '#core/tags/picture-shapes.ts';
import { areaMm2, boxOf, ringsOf } from '#core/tags/rings.ts';
import { TagShapes } from '#core/tags/shapes.ts';
import { pathContours } from '#core/tags/svg-path.ts';
import type { SvgShape } from '#core/tags/svg-shapes.ts';
import { tagOf } from '../helpers/tags.ts';

/** A drawing as a picture, by librsvg. */
async function drawn(width: number, height: number, inner: string): Promise<RgbaRaster> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${inner}</svg>`;
  const { data, info } = await sharp(Buffer.from(svg))
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8ClampedArray(data) };
}

const areaOf = ({ path, width, height }: SvgShape): number => {
  const read = pathContours(path, width, height);
  if (!read.ok) throw new Error(read.fault.code);
  return areaMm2(ringsOf(read.value, 'evenodd'));
};

describe('the flat areas of a picture as outlines', () => {
  const ring =
    '<circle cx="200" cy="200" r="120" fill="#1a2a6c"/><circle cx="200" cy="200" r="60" fill="#fff"/>';
  const bar = '<rect x="380" y="100" width="150" height="200" fill="#e9b800"/>';

  it('have the areas of what was drawn, within half a percent, without the ground that it lies on', async () => {
    const picture = await drawn(
      600,
      400,
      `<rect width="600" height="400" fill="#fff"/>${ring}${bar}`,
    );
    const read = shapesOfPicture(picture);
    if (!read.ok) return expect.fail(read.fault.code);
    const { shapes, contour } = read.value;
    expect(shapes.map(({ colour }) => colour)).to.have.members(['#1a2a6c', '#e9b800']);
    const own = (colour: string): number => {
      const shape = shapes.find((one) => one.colour === colour);
      return shape ? areaOf(shape) : 0;
    };
    const disc = Math.PI * 120 ** 2;
    expect(own('#1a2a6c')).to.be.closeTo(disc - Math.PI * 60 ** 2, 0.005 * disc);
    expect(own('#e9b800')).to.be.closeTo(30_000, 0.01 * 30_000);
    // The line around it has no hole.
    expect(areaOf(contour)).to.be.closeTo(disc + 30_000, 0.01 * disc);
    expect([contour.left, contour.top, contour.width, contour.height]).to.deep.equal([
      80, 80, 450, 240,
    ]);
  });

  it('of a cut-out picture all is taken, and an outline grows around it by so many mm', async () => {
    const read = shapesOfPicture(await drawn(400, 400, ring));
    if (!read.ok) return expect.fail(read.fault.code);
    expect(read.value.shapes.map(({ colour }) => colour)).to.have.members(['#1a2a6c', '#ffffff']);
    const { path } = read.value.contour;
    const outline = { kind: 'path' as const, path, widthMm: 40, heightMm: 40, cornerMm: 0 };
    const rings = (grownMm?: number) =>
      new TagShapes(() => undefined).outline(tagOf([], { outline: { ...outline, grownMm } })).rings;
    expect(areaMm2(rings())).to.be.closeTo(Math.PI * 400, 3);
    expect(areaMm2(rings(2))).to.be.closeTo(Math.PI * 22 ** 2, 5);
    const box = boxOf(rings(2));
    expect((box?.right ?? 0) - (box?.left ?? 0)).to.be.closeTo(44, 0.1);
  });

  it('one colour gives nothing, and noise no more than eight areas', async () => {
    const plain = shapesOfPicture(
      await drawn(80, 60, '<rect width="80" height="60" fill="#888"/>'),
    );
    expect(!plain.ok && plain.fault.code).to.equal('no-shapes');
    const noise = await drawn(120, 90, '<rect width="120" height="90" fill="#888"/>');
    let state = 7;
    const data = noise.data.map((value, i) => {
      state = (state * 1103515245 + 12345) % 2 ** 31;
      return i % 4 === 3 ? value : state % 256;
    });
    const read = shapesOfPicture({ ...noise, data });
    if (read.ok) expect(read.value.shapes.length).to.be.at.most(8);
    else expect(read.fault.code).to.be.oneOf(['no-shapes', 'too-long']);
  });
});
