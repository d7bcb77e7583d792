/**
 * How long tags take, as ratios to uniting the same letters once (clipper2-ts, the package that all of it stands on): part of
 * `npm run bench`. Writes docs/bench/tags.md.
 */
import { writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { checkMesh } from '../src/core/relief/check-mesh.ts';
import { inlaidMeshes, reliefMesh } from '../src/core/relief/relief-mesh.ts';
import { layerTopsMm } from '../src/core/stack/layer-grid.ts';
import { TagChecks } from '../src/core/tags/check-tag.ts';
import { outlineRelief } from '../src/core/tags/outline-piece.ts';
import { planTag } from '../src/core/tags/plan-tag.ts';
import { unionOf } from '../src/core/tags/rings.ts';
import { TagShapes } from '../src/core/tags/shapes.ts';
import { faceById } from '../src/platform/faces.ts';
import { loadShippedFaces } from '../src/platform/node/load-faces.ts';
import { readyForTags } from '../src/state/ready-for-tags.ts';
import { samplesOf } from '../src/state/document-facts.ts';
import { letters, tagDocument, tagOf } from '../tests/helpers/tags.ts';

const ROUNDS = 7;
const WORDS = ['OBSERVATORY', 'eyepieces', 'Night watch', '0123456789'];

const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[values.length >> 1] ?? Number.NaN;

function timed(action: () => unknown): number {
  const start = performance.now();
  action();
  return performance.now() - start;
}

await readyForTags(loadShippedFaces);
const rows: string[] = [];
for (const way of ['raised', 'flush'] as const) {
  const elements = Array.from({ length: 20 }, (_, n) =>
    letters(WORDS[n % WORDS.length] ?? '', {
      way,
      heightMm: 5,
      xMm: n % 2 === 0 ? -38 : 38,
      yMm: 54 - 12 * (n >> 1),
    }),
  );
  const outline = { kind: 'rounded' as const, widthMm: 170, heightMm: 130, cornerMm: 6 };
  const document = tagDocument(tagOf(elements, { outline, back: 'plain' }));
  const { tag, stack } = document;
  if (!tag) throw new Error('no tag');
  const count = elements.reduce(
    (sum, one) => sum + (one.kind === 'text' ? one.text.replace(/ /g, '').length : 0),
    0,
  );
  const samples = samplesOf(document);
  const tops = layerTopsMm(stack.grid, 14);
  const times: Record<'union' | 'plan' | 'again' | 'arrange' | 'mesh' | 'fine', number[]> = {
    union: [],
    plan: [],
    again: [],
    arrange: [],
    mesh: [],
    fine: [],
  };
  let triangles = 0;
  for (let round = 0; round < ROUNDS; round += 1) {
    const shapes = new TagShapes(faceById);
    let planned = planTag(tag, shapes, stack.grid);
    const rings = planned.shapes.flatMap((one) => one.rings);
    times.union.push(timed(() => unionOf(rings)));
    times.plan.push(timed(() => planTag(tag, new TagShapes(faceById), stack.grid)));
    times.again.push(timed(() => (planned = planTag(tag, shapes, stack.grid))));
    let relief = outlineRelief(planned.piece, samples);
    times.arrange.push(timed(() => (relief = outlineRelief(planned.piece, samples))));
    const shape = { ...relief, sampleMm: samples.sampleMm };
    times.mesh.push(
      timed(() => {
        const parts = inlaidMeshes(shape, tops);
        const meshes = parts ? [parts.body, ...parts.inlays] : [reliefMesh(shape, tops)];
        triangles = meshes.reduce((sum, mesh) => sum + mesh.triangles.length / 3, 0);
        if (round === 0)
          for (const mesh of meshes)
            if (checkMesh(mesh, { crossings: false }).badEdges > 0) throw new Error('bad edges');
      }),
    );
    times.fine.push(
      timed(() => new TagChecks().problems(tag, planned, { lineMm: 0.42, layerMm: 0.2 })),
    );
  }
  const unit = median(times.union);
  const ratio = (name: keyof typeof times): string => (median(times[name]) / unit).toFixed(1);
  rows.push(
    `| ${count} letters, ${way} | ${triangles} | ${ratio('plan')} | ${ratio('again')} | ${ratio('arrange')} | ${ratio('mesh')} | ${ratio('fine')} | ${unit.toFixed(0)} ms |`,
  );
}
const page = `# Tags

Medians of ${ROUNDS} rounds on ${cpus()[0]?.model ?? 'a processor'}, as multiples of uniting the same letters once. *Plan* sets the letters and
lays them out, *again* with the forms kept; *arrange* is the one arrangement with its cells and samples; *mesh* raises the solid, or body and inlays;
*fine* looks for what is too fine.

| tag | triangles | plan | again | arrange | mesh | fine | one union |
|---|---|---|---|---|---|---|---|
${rows.join('\n')}
`;
writeFileSync(new URL('../docs/bench/tags.md', import.meta.url), page);
process.stdout.write(page);
