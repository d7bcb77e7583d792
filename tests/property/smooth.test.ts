import { expect } from 'chai';
import fc from 'fast-check';
import { checkMesh, isSoundMesh } from '#core/relief/check-mesh.ts';
import { outlineArea, traceOutlines } from '#core/relief/outlines.ts';
import { partDiagonals } from '#core/relief/part-diagonals.ts';
import { reliefMesh, smoothTolerance, spanMeshes } from '#core/relief/relief-mesh.ts';
import { outlinesAt, smoothOutlines } from '#core/relief/smooth-outlines.ts';

const LEVELS = 5;
const MM = Float64Array.from({ length: LEVELS + 1 }, (_, n) => (n === 0 ? 0 : 0.08 + 0.08 * n));

/** Heights with masks, islands, thin bridges and diagonals, free of diagonal contacts. */
const MAPS = fc
  .record({
    width: fc.integer({ min: 1, max: 12 }),
    height: fc.integer({ min: 1, max: 12 }),
    levels: fc.integer({ min: 1, max: LEVELS }),
    cells: fc.array(fc.integer({ min: 0, max: 99 }), { minLength: 144, maxLength: 144 }),
    patch: fc.integer({ min: 1, max: 4 }),
  })
  .map(({ width, height, levels, cells, patch }) => {
    // Patches of one height beside single samples: long outlines as well as crowded ones.
    const at = (x: number, y: number): number =>
      (cells[(12 * Math.floor(y / patch) + Math.floor(x / patch)) % 144] ?? 0) % (levels + 1);
    const data = Uint8Array.from({ length: width * height }, (_, i) =>
      at(i % width, Math.floor(i / width)),
    );
    return partDiagonals({ width, height, data }).heights;
  });
const TOLERANCES = fc.constantFrom(0, 0.1, 0.45, 1.5);

describe('properties of smooth outlines', () => {
  it('any heights give a sound solid: closed, outward, no crossing, volume the sum of area x height', () => {
    fc.assert(
      fc.property(MAPS, TOLERANCES, (heights, tolerance) => {
        const mesh = reliefMesh({ heights, sampleMm: 1, smoothMm: tolerance }, MM);
        if (heights.data.every((layers) => layers === 0)) {
          expect(mesh.triangles).to.have.length(0);
          return;
        }
        const faults = checkMesh(mesh);
        expect(isSoundMesh(faults), JSON.stringify(faults)).to.equal(true);
        const shared = smoothOutlines(heights, smoothTolerance(tolerance, 1));
        let volume = 0;
        for (let n = 1; n <= LEVELS; n += 1)
          volume += outlineArea(outlinesAt(shared, n)) * ((MM[n] ?? 0) - (MM[n - 1] ?? 0));
        expect(faults.volumeMm3).to.be.closeTo(volume, 1e-4 * (1 + volume));
      }),
      { numRuns: 300 },
    );
  });

  it('bands share their faces: each is sound, and together they have the volume of the whole', () => {
    fc.assert(
      fc.property(
        MAPS,
        TOLERANCES,
        fc.integer({ min: 1, max: LEVELS }),
        (heights, tolerance, cut) => {
          const shape = { heights, sampleMm: 1, smoothMm: tolerance };
          const levelsOf = (below: number, end: number): Float64Array =>
            Float64Array.from(
              { length: end - below + 1 },
              (_, n) => (MM[below + n] ?? 0) - (MM[below] ?? 0),
            );
          const spans = [
            { below: 0, end: cut, levelMm: levelsOf(0, cut) },
            { below: cut, end: LEVELS, levelMm: levelsOf(cut, LEVELS) },
          ];
          let sum = 0;
          for (const mesh of spanMeshes(shape, spans)) {
            if (mesh.triangles.length === 0) continue;
            const faults = checkMesh(mesh);
            expect(isSoundMesh(faults), JSON.stringify(faults)).to.equal(true);
            sum += faults.volumeMm3;
          }
          const whole = reliefMesh(shape, MM);
          const volume = whole.triangles.length === 0 ? 0 : checkMesh(whole).volumeMm3;
          expect(sum).to.be.closeTo(volume, 1e-4 * (1 + volume));
        },
      ),
      { numRuns: 150 },
    );
  });

  it('a slice gives back the samples of its layer, none wrong, as finely as outlines are ever simplified', () => {
    fc.assert(
      fc.property(MAPS, (heights) => {
        const shared = smoothOutlines(heights, smoothTolerance(9, 1));
        for (let level = 1; level <= LEVELS; level += 1) {
          const lines = outlinesAt(shared, level);
          heights.data.forEach((layers, i) => {
            const [x, y] = [(i % heights.width) + 0.5, Math.floor(i / heights.width) + 0.5];
            // A hair aside, so that the ray meets no point.
            expect(within(lines, x, y + 1e-7)).to.equal(layers >= level);
          });
        }
      }),
      { numRuns: 200 },
    );
  });

  it('points of an outline lie within half a sample and the tolerance of where samples meet', () => {
    fc.assert(
      fc.property(
        MAPS,
        TOLERANCES,
        fc.integer({ min: 1, max: LEVELS }),
        (heights, tolerance, level) => {
          const sharp = traceOutlines(heights, level);
          const smooth = outlinesAt(smoothOutlines(heights, tolerance), level);
          // As many outlines as before: none is lost, none appears.
          expect(smooth).to.have.length(sharp.length);
          for (const corners of smooth)
            for (let i = 0; i < corners.length; i += 2)
              expect(
                Math.min(
                  ...sharp.map((line) => distanceTo(line, corners[i] ?? 0, corners[i + 1] ?? 0)),
                ),
              ).to.be.at.most(1e-9);
          // And the middle of each smooth piece is not farther off than the tolerance and the cut corner.
          for (const corners of smooth)
            for (let i = 0; i < corners.length; i += 2) {
              const n = (i + 2) % corners.length;
              const [x, y] = [
                ((corners[i] ?? 0) + (corners[n] ?? 0)) / 2,
                ((corners[i + 1] ?? 0) + (corners[n + 1] ?? 0)) / 2,
              ];
              expect(Math.min(...sharp.map((line) => distanceTo(line, x, y)))).to.be.at.most(
                tolerance + Math.SQRT1_2 / 2 + 1e-9,
              );
            }
        },
      ),
      { numRuns: 150 },
    );
  });
});

/** Whether a point lies within closed lines: a ray to the right meets them an odd number of times. */
function within(lines: readonly (readonly number[])[], x: number, y: number): boolean {
  let inside = false;
  for (const line of lines)
    for (let i = 0; i < line.length; i += 2) {
      const n = (i + 2) % line.length;
      const [ax, ay, bx, by] = [line[i], line[i + 1], line[n], line[n + 1]] as [
        number,
        number,
        number,
        number,
      ];
      if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
    }
  return inside;
}

/** Distance of a point from a closed line. */
function distanceTo(line: readonly number[], x: number, y: number): number {
  let least = Infinity;
  for (let i = 0; i < line.length; i += 2) {
    const n = (i + 2) % line.length;
    const [ax, ay, bx, by] = [line[i], line[i + 1], line[n], line[n + 1]] as [
      number,
      number,
      number,
      number,
    ];
    const [dx, dy] = [bx - ax, by - ay];
    const square = dx * dx + dy * dy;
    const along =
      square === 0 ? 0 : Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / square));
    least = Math.min(least, Math.hypot(x - ax - along * dx, y - ay - along * dy));
  }
  return least;
}
