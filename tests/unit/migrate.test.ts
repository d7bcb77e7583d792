import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { migrateDocument } from '../../src/state/migrate-document.ts';
import { SCHEMA_VERSION } from '../../src/state/project-document.ts';
import { stampOfDocument } from '../../src/state/project-export.ts';
import { readProjectFile, writeProjectFile } from '../../src/state/project-file.ts';
import { importanceOf } from '../../src/state/importance.ts';

/** A file of `tests/fixtures/projects`: what each version of the app wrote; never made anew. */
function fixture(name: string): Buffer {
  return readFileSync(new URL(`../fixtures/projects/${name}`, import.meta.url));
}

function json(name: string): Record<string, unknown> {
  return JSON.parse(fixture(`${name}.json`).toString()) as Record<string, unknown>;
}

/**
 * The stamps that version 6 of the app gave to projects without calm: the same print must have the same stamp for ever. The later
 * ones are calmed, which since then is done by lines: other heights, so they may not have the stamp of before (V6PX-C2NZ); nor that of contacts parted without prices
 * (9D90-GZHE), nor that of islands which came back when contacts were parted (7HMD-5F7F).
 */
const STAMPS = ['MGB6-186C', 'MGB6-186C', 'DF2T-WKSD'];

describe('projects of older versions', () => {
  for (let version = 1; version <= SCHEMA_VERSION; version += 1)
    it(`one of version ${version} opens as it was, whatever a new project begins with`, () => {
      const document = migrateDocument(json(`v${version}`));
      expect(stampOfDocument(document)).to.equal(STAMPS[version - 1] ?? STAMPS.at(-1));
      // What version 6 of the app read it as, and what it is now in slices.
      if (version < 7) expect(document).to.deep.equal(migrateDocument(json(`v${version}.now`)));
      const { artwork, versions, ...read } = valueOf(fixture(`v${version}.strata`));
      expect(read.document).to.deep.equal(document);
      expect([artwork, versions]).to.deep.equal([Uint8Array.of(1, 2, 3, 4), []]);
    });

  it('nothing of version 6 is lost on the way into slices', () => {
    expect(migrateDocument(json('v6'))).to.deep.equal(json('v14'));
    expect(migrateDocument(json('v8'))).to.deep.equal(json('v14'));
    const full = {
      ...json('v6'),
      heightMm: 80,
      trim: true,
      opening: { kind: 'frame', widthMm: 130, heightMm: 180, depthMm: 5 },
      detailMm: 0.3,
      lineMm: 0.5,
      sheet: {
        startsAt: '2026-11-25T18:30',
        slicedMinutes: 90,
        slicedGrams: 12,
        spliceMarginMm: 250,
      },
    };
    const { piece, print } = migrateDocument(full);
    expect(piece).to.deep.include({ heightMm: 80, trim: true, sampleMm: 0.3, fit: full.opening });
    expect(print).to.deep.include({ lineMm: 0.5, ...full.sheet });
  });

  it('what was painted goes beside the document, number by number', () => {
    const read = valueOf(fixture('v6.strata'));
    const strokes = [{ mark: 'more', radius: 0.1, points: [0.2, 0.3, 0.4, 0.5] }];
    expect(importanceOf(read.document)).to.deep.equal(strokes);
    const [mark] = read.document.artwork.masks.importance;
    const points = mark && 'points' in mark ? mark.points : undefined;
    const entries = unzipSync(writeProjectFile(read));
    expect(entries).to.include.keys(`data/${points ?? ''}`);
    // Without it the file is damaged, and says which part is missing.
    const { [`data/${points ?? ''}`]: _gone, ...rest } = entries;
    const foreign = points?.replace(/./g, 'a') ?? '';
    const text = strToU8(JSON.stringify(read.document).replace(points ?? '', foreign));
    const result = readProjectFile(zipSync({ ...rest, 'project.json': text }));
    expect(!result.ok && result.fault).to.include({
      code: 'damaged-project',
      where: `data/${foreign}`,
    });
  });

  it('what version 8 painted over a picture that was cut and turned stays where it was', () => {
    const old = json('v8') as { artwork: { file: object; masks: object } };
    const { width, height } = migrateDocument(old).artwork.file;
    const crop = { kind: 'crop', left: width / 2, top: 0, width: width / 2, height };
    const common = { on: true, mask: null };
    const edits = [
      { id: 'c', ...common, ...crop },
      { id: 't', ...common, kind: 'turn', degrees: 90 },
    ];
    const document = migrateDocument({ ...old, artwork: { ...old.artwork, edits } });
    const [stroke] = importanceOf(document);
    expect(stroke).to.deep.include({ mark: 'more', radius: 0.1 });
    const places = stroke && 'points' in stroke ? [...stroke.points] : [];
    [0.2, 0.3, 0.4, 0.5].forEach((share, i) => {
      expect(places[i]).to.be.closeTo(share, 1e-9);
    });
    // Without the edits the same stroke lies in the right half, where it was seen.
    const whole = importanceOf({ artwork: { ...document.artwork, edits: [] } })[0];
    const [x = 0, y = 0] = whole && 'points' in whole ? whole.points : [];
    expect([x, y].map((one) => one.toFixed(6))).to.deep.equal(
      // A turn to the right takes (x, y) of the crop to (1 - y, x).
      [0.5 + 0.3 / 2, 1 - 0.2].map((one) => one.toFixed(6)),
    );
  });

  it('a stroke of version 6 that is none makes a project damaged, not empty', () => {
    const bad = { ...json('v6'), importance: [{ mark: 'more', radius: 0.1, points: [0.2, 'x'] }] };
    expect(() => migrateDocument(bad)).to.throw(/importance/);
  });
});

function valueOf(bytes: Uint8Array) {
  const read = readProjectFile(new Uint8Array(bytes));
  if (!read.ok) throw new Error(read.fault.code);
  return read.value;
}
