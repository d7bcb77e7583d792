/** Draws the demo pictures into demo/art as PNG. Run with `npm run demo:art`; the results are committed. */
import sharp from 'sharp';
import { DEMO_ARTWORKS } from './draw/index.ts';
import { render } from './draw/shading.ts';

const only = process.argv[2];
for (const { file, width, height, shader } of DEMO_ARTWORKS) {
  if (only !== undefined && only !== file) continue;
  const pixels = render(width, height, 2, shader());
  const target = new URL(`./art/${file}.png`, import.meta.url).pathname;
  const flat = sharp(pixels, { raw: { width, height, channels: 4 } });
  const opaque = pixels.every((value, i) => i % 4 !== 3 || value === 255);
  const { size } = await (opaque ? flat.removeAlpha() : flat)
    .png({ compressionLevel: 9, adaptiveFiltering: true })
    .toFile(target);
  process.stdout.write(`${file} ${width} x ${height}, ${Math.round(size / 1000)} kB\n`);
}
