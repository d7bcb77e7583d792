import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const FIXTURE = 'tests/fixtures/fences';

function run(command: string, ...args: string[]): string {
  return spawnSync(`node_modules/.bin/${command}`, args, { cwd: ROOT, encoding: 'utf8' }).stdout;
}

describe('fences', () => {
  it('every planted violation is caught by its rule', () => {
    const output = run(
      'depcruise',
      `${FIXTURE}/src`,
      '--config',
      '.dependency-cruiser.cjs',
      '--output-type',
      'json',
    );
    const { summary } = JSON.parse(output) as {
      summary: { violations: { from: string; rule: { name: string } }[] };
    };
    const found = summary.violations.map(
      ({ from, rule }) => `${from.replace(`${FIXTURE}/src/`, '')}: ${rule.name}`,
    );
    expect(found).to.include.members([
      'core/optics/uses-stack.ts: core-optics-order',
      'core/plan/uses-find.ts: core-plan-order',
      'core/formats/sheet/uses-mesh.ts: formats-sheet-alone',
      'core/base/uses-node.ts: core-imports-only-core',
      'core/base/uses-react.ts: core-imports-only-core',
      'features/stack/uses-shelf.ts: feature-stack-alone',
      'ui/knows-domain.ts: ui-knows-no-domain',
      'workers/uses-feature.ts: workers-import-core-and-platform',
      'workers/export/uses-artwork.ts: worker-export-alone',
      'state/slices/uses-other.ts: slices-stand-alone',
      'cli/uses-feature.ts: cli-uses-core-and-node',
      'state/uses-app.ts: features-not-app',
    ]);
    expect(found.some((line) => line.endsWith('no-cycles'))).to.equal(true);
  });

  it('the core compiles without the globals of browser and Node, and only the planted file fails', () => {
    const lines = run('tsc', '-p', FIXTURE, '--pretty', 'false').split('\n').filter(Boolean);
    expect(lines).to.have.length(3);
    for (const [i, name] of ['document', 'process', 'setTimeout'].entries())
      expect(lines[i])
        .to.match(/core-globals\.ts/)
        .and.to.contain(`'${name}'`);
  });
});
