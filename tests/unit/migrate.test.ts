import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { strToU8, zipSync } from 'fflate';
import { migrateDocument } from '../../src/state/migrate-document.ts';
import { SCHEMA_VERSION } from '../../src/state/project-document.ts';
import { readProjectFile } from '../../src/state/project-file.ts';

/** A file of `tests/fixtures/projects`: what each version of the app wrote, and what it opens as; never made anew. */
function fixture(name: string): unknown {
  return JSON.parse(
    readFileSync(new URL(`../fixtures/projects/${name}.json`, import.meta.url), 'utf8'),
  );
}

describe('projects of older versions', () => {
  for (let version = 1; version <= SCHEMA_VERSION; version += 1)
    it(`one of version ${version} opens as it was, whatever a new project begins with`, () => {
      const document = migrateDocument(fixture(`v${version}`));
      expect(document).to.deep.equal(fixture(`v${version}.now`));
      const file = zipSync({
        'project.json': strToU8(JSON.stringify(fixture(`v${version}`))),
        'artwork.png': Uint8Array.of(1, 2, 3, 4),
      });
      const read = readProjectFile(file);
      expect(read.ok && read.value.document).to.deep.equal(document);
    });
});
