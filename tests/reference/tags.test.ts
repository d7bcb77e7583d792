import { readFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { create } from 'fontkit';
import sharp from 'sharp';
import { spanMeshes } from '#core/relief/relief-mesh.ts';
import { bandSpans } from '#core/formats/mesh/band-solids.ts';
import { reliefStl } from '#core/formats/mesh/relief-files.ts';
import { joinPieces } from '#core/base/byte-pieces.ts';
import { thinnest, widthsAlong } from '#core/tags/fine.ts';
import { setLettering } from '#core/tags/lettering.ts';
import { outlineRelief } from '#core/tags/outline-piece.ts';
import { areaMm2, ringsOf, UNITS_PER_MM, type Ring } from '#core/tags/rings.ts';
import { readPath } from '#core/tags/svg-path.ts';
import { faceById, SHIPPED_FACES } from '../../src/platform/faces.ts';
import { loadShippedFaces } from '../../src/platform/node/load-faces.ts';
import { readyForTags } from '../../src/state/ready-for-tags.ts';
import { heightRequest, stackOf } from '../../src/state/document-facts.ts';
import { exportRequest } from '../../src/state/project-export.ts';
import { hole, letters, shape, tagDocument, tagOf, THIRD } from '../helpers/tags.ts';

interface Command {
  readonly command: string;
  readonly args: readonly number[];
}

/**
 * Area of a path by Green's theorem, exactly: the integral of x dy over lines, and over Bézier curves by Gauss's rule with as many
 * places as their degree wants. Contours of a font that overlap would count twice; these do not.
 */
function exactArea(commands: readonly Command[]): number {
  let area = 0;
  let [x, y, startX, startY] = [0, 0, 0, 0];
  // Gauss-Legendre with four places: exact up to degree 7 (Abramowitz and Stegun, table 25.4).
  const places = [
    [0.339981043584856, 0.652145154862546],
    [0.861136311594053, 0.347854845137454],
  ].flatMap(([at = 0, weight = 0]) => [
    [(1 + at) / 2, weight / 2],
    [(1 - at) / 2, weight / 2],
  ]);
  const along = (points: readonly number[]): void => {
    const degree = points.length / 2 - 1;
    const at = (t: number, k: number): number => {
      // de Casteljau.
      const row = points.filter((_, n) => n % 2 === k);
      for (let n = degree; n > 0; n -= 1)
        for (let i = 0; i < n; i += 1) row[i] = (row[i] ?? 0) * (1 - t) + (row[i + 1] ?? 0) * t;
      return row[0] ?? 0;
    };
    for (const [t = 0, weight = 0] of places) {
      const h = 1e-6;
      area += (weight * at(t, 0) * (at(t + h, 1) - at(t - h, 1))) / (2 * h);
    }
    [x, y] = points.slice(-2) as [number, number];
  };
  for (const { command, args } of commands) {
    if (command === 'moveTo') [x, y] = [startX, startY] = args as [number, number];
    else if (command === 'closePath') along([x, y, startX, startY]);
    else along([x, y, ...args]);
  }
  return Math.abs(area);
}

describe('tags against other packages', () => {
  before(() => readyForTags(loadShippedFaces));

  it('letters have the areas of the curves that fontkit reads, within 0.3 %', () => {
    for (const { id, family, fileWeight } of SHIPPED_FACES) {
      const face = faceById(id);
      const font = create(
        readFileSync(
          new URL(
            `../../node_modules/@fontsource/${family}/files/${family}-latin-${fileWeight}-normal.woff`,
            import.meta.url,
          ),
        ),
      );
      if (!face) throw new Error(id);
      for (const letter of 'AO8gsR7') {
        const set = { text: letter, heightMm: 10, tracking: 0, lineSpacing: 1, arcMm: 0 };
        const own = areaMm2(ringsOf(setLettering(set, face).contours, 'nonzero'));
        const glyph = font.glyphForCodePoint(letter.codePointAt(0) ?? 0);
        const emMm = 10 / face.capitals;
        const theirs = exactArea(glyph.path.commands) * (emMm / font.unitsPerEm) ** 2;
        expect(own, `${id} ${letter}`).to.be.closeTo(theirs, 0.003 * theirs);
      }
      // Capitals are as high as the font itself says, but for faces whose H is rounded.
      expect(face.capitals, id).to.be.closeTo(font.capHeight / font.unitsPerEm, 0.03);
    }
  });

  it('paths of SVG cover what librsvg paints of them', async () => {
    const paths: readonly (readonly [string, 'nonzero' | 'evenodd'])[] = [
      ['M10 10 90 10 90 90 10 90z m20 20h40v40h-40z', 'evenodd'],
      ['M10 10 90 10 90 90 10 90z m20 20h40v40h-40z', 'nonzero'],
      ['M50 10A40 25 30 1 0 90 50L50 50z', 'nonzero'],
      ['m10,80 c20-60 60-60 80,0 s-20,10-40,10-40,0-40-10z', 'nonzero'],
      ['M10 50q20-45 40 0t40 0v30h-80z', 'nonzero'],
      ['M20 20a20 20 0 1 1 0 40a10 10 0 0 0 0-40M60 60a15 25 45 0 1 20 20z', 'nonzero'],
      ['M50 5L79.4 95.5 2.4 39.5h95.2L20.6 95.5z', 'evenodd'],
      ['M50 5L79.4 95.5 2.4 39.5h95.2L20.6 95.5z', 'nonzero'],
    ];
    for (const [data, fill] of paths) {
      const size = 2000;
      const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${size}" height="${size}" viewBox="-50 -50 200 200"><path d="${data}" fill-rule="${fill}"/></svg>`;
      const { data: pixels } = await sharp(Buffer.from(svg))
        .extractChannel('alpha')
        .raw()
        .toBuffer({ resolveWithObject: true });
      const theirs = pixels.reduce((sum, alpha) => sum + alpha / 255, 0) / (size / 200) ** 2;
      const read = readPath(data);
      if (!read.ok) throw new Error(read.fault.code);
      const upright = read.value.contours.map((line) => line.map((at, n) => (n % 2 ? -at : at)));
      const own = areaMm2(ringsOf(upright, fill));
      expect(own, data).to.be.closeTo(theirs, 0.004 * theirs);
    }
  });

  it('strokes of an O are as thin as a distance transform of its pixels says', async () => {
    for (const id of ['hanken', 'zilla-bold', 'fredoka']) {
      const face = faceById(id);
      if (!face) throw new Error('no face');
      const set = { text: 'O', heightMm: 8, tracking: 0, lineSpacing: 1, arcMm: 0 };
      const rings = ringsOf(setLettering(set, face).contours, 'nonzero');
      const own = thinnest(widthsAlong(rings, true, 3), 0.42);
      // An O is thinnest above and below: the widest ball that fits in there, in pixels of 0.01 mm.
      const perMm = 100;
      const { pixels, width, height } = await painted(rings, perMm);
      const distance = squaredDistances(pixels, width, height);
      const widest = (from: number, to: number): number => {
        let most = 0;
        for (let y = from; y < to; y += 1)
          most = Math.max(most, distance[y * width + Math.round(width / 2)] ?? 0);
        return (2 * Math.sqrt(most)) / perMm;
      };
      const middle = Math.floor(height / 2);
      const thin = Math.min(widest(0, middle), widest(middle, height));
      expect(own?.widthMm, id).to.be.closeTo(thin, 0.03);
    }
  });

  it('admesh finds nothing to mend in a tag, its bands and a tag of 200 letters', () => {
    const folder = mkdtempSync(join(tmpdir(), 'strata-tags-'));
    try {
      const many = Array.from({ length: 10 }, () => 'Hollow Hill Obs 1234').join('\n');
      const tags = [
        tagOf([
          hole(-25, 0),
          letters('LOCKER'),
          letters('7', { xMm: 22, filamentId: THIRD }),
          shape(),
        ]),
        tagOf([letters(many, { heightMm: 3, face: 'fredoka-bold' })], {
          outline: { kind: 'rounded', widthMm: 90, heightMm: 80, cornerMm: 5 },
        }),
      ];
      for (const tag of tags) {
        const document = tagDocument(tag);
        const { request, ...wanted } = exportRequest(document);
        if (!request.piece) throw new Error('no piece');
        const relief = { ...outlineRelief(request.piece, request), sampleMm: request.sampleMm };
        const stl = reliefStl({ ...wanted, ...relief });
        const path = join(folder, 'tag.stl');
        writeFileSync(path, joinPieces(stl.pieces));
        // It may run for ever on a sound file.
        const report = execFileSync('admesh', [path], { encoding: 'utf8', timeout: 60_000 });
        expect(report).to.match(/Number of parts\s+:\s+1 /);
        for (const what of [
          'Degenerate facets',
          'Edges fixed',
          'Facets removed',
          'Facets reversed',
        ])
          expect(new RegExp(`${what}\\s+:\\s+(\\d+)`).exec(report)?.[1], what).to.equal('0');
        expect(spanMeshes(relief, bandSpans(stackOf(document)))).to.have.length(
          document.stack.bands.length,
        );
        expect(heightRequest(document).piece).to.deep.equal(request.piece);
      }
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});

/** Rings painted by librsvg. */
async function painted(rings: readonly Ring[], perMm: number) {
  const [xs, ys] = [0, 1].map((k) =>
    rings.flatMap((ring) => ring.filter((_, n) => n % 2 === k)),
  ) as [number[], number[]];
  const [left, top] = [Math.min(...xs) / UNITS_PER_MM - 0.2, Math.max(...ys) / UNITS_PER_MM + 0.2];
  const width = Math.ceil((Math.max(...xs) / UNITS_PER_MM + 0.2 - left) * perMm);
  const height = Math.ceil((top - Math.min(...ys) / UNITS_PER_MM + 0.2) * perMm);
  const data = rings
    .map((ring) => {
      const points: string[] = [];
      for (let n = 0; n < ring.length; n += 2)
        points.push(
          `${(((ring[n] ?? 0) / UNITS_PER_MM - left) * perMm).toFixed(2)} ${((top - (ring[n + 1] ?? 0) / UNITS_PER_MM) * perMm).toFixed(2)}`,
        );
      return `M${points.join('L')}Z`;
    })
    .join('');
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><path d="${data}"/></svg>`;
  const pixels = await sharp(Buffer.from(svg)).extractChannel('alpha').raw().toBuffer();
  return { pixels, width, height };
}

/** Squared distance of each painted pixel to the nearest that is not (P. F. Felzenszwalb, D. P. Huttenlocher, 2012, brute force by rows). */
function squaredDistances(pixels: Uint8Array, width: number, height: number): Float64Array {
  const column = new Float64Array(width * height);
  for (let x = 0; x < width; x += 1) {
    let far = 0;
    for (let y = 0; y < height; y += 1) {
      far = (pixels[y * width + x] ?? 0) > 127 ? far + 1 : 0;
      column[y * width + x] = far;
    }
    far = 0;
    for (let y = height - 1; y >= 0; y -= 1) {
      far = (pixels[y * width + x] ?? 0) > 127 ? far + 1 : 0;
      column[y * width + x] = Math.min(column[y * width + x] ?? 0, far);
    }
  }
  const out = new Float64Array(width * height);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const own = column[y * width + x] ?? 0;
      if (own === 0) continue;
      let best = own * own;
      for (let step = 1; step * step < best; step += 1)
        for (const at of [x - step, x + step]) {
          const other = at < 0 || at >= width ? 0 : (column[y * width + at] ?? 0);
          best = Math.min(best, step * step + other * other);
        }
      out[y * width + x] = best;
    }
  return out;
}
