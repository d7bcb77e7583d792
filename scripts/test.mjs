/**
 * `npm test`: installs what is missing and runs every check. Each static check counts as one test. The last line is
 * `N passed, N failed`.
 */
import { spawn } from 'node:child_process';
import { build, installPackages, installTestPackages, ROOT, run } from './setup.mjs';

installPackages();
installTestPackages();

let passed = 0;
let failed = 0;

function check(name, succeeded) {
  process.stdout.write(`${succeeded ? 'ok    ' : 'FAILED'} ${name}\n`);
  if (succeeded) passed += 1;
  else failed += 1;
}

const bin = (name) => `node_modules/.bin/${name}`;

/** Runs a suite with mocha and adds up what it says; a suite that ran no test, or broke off, counts as one failure. */
async function suite(name, pattern) {
  process.stdout.write(`\n== ${name}\n`);
  const child = spawn(bin('mocha'), ['--no-color', '--reporter', 'spec', pattern], {
    cwd: ROOT,
    env: { ...process.env, NODE_NO_WARNINGS: '1' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let output = '';
  child.stdout.on('data', (chunk) => {
    output += chunk;
    process.stdout.write(chunk);
  });
  const status = await new Promise((resolve) => child.on('close', resolve));
  const count = (word) => Number(new RegExp(`^\\s*(\\d+) ${word}`, 'm').exec(output)?.[1] ?? 0);
  const passing = count('passing');
  const failing = count('failing');
  passed += passing;
  failed += failing;
  if (passing + failing === 0 || (status !== 0 && failing === 0)) {
    process.stdout.write(`FAILED ${name}: it ended with status ${status} after ${passing} tests\n`);
    failed += 1;
  }
}

check('build', build());
check('types', run(bin('tsc'), ['--noEmit']));
check('types of pages', run(bin('astro'), ['check', '--minimumFailingSeverity', 'error']));
check('types of the core alone', run(bin('tsc'), ['-p', 'tsconfig.core.json']));
check('lint', run(bin('eslint'), ['.', '--max-warnings', '0']));
check('format', run(bin('prettier'), ['--check', '--log-level', 'warn', '.']));
check(
  'fences',
  run(bin('depcruise'), [
    'src',
    'demo',
    '--config',
    '.dependency-cruiser.cjs',
    '--output-type',
    'err',
  ]),
);
await suite('unit', 'tests/unit/*.test.ts');
await suite('reference', 'tests/reference/*.test.ts');
await suite('property', 'tests/property/*.test.ts');
await suite('browser', 'tests/e2e/*.test.ts');

process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exitCode = failed === 0 ? 0 : 1;
