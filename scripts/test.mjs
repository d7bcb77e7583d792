/**
 * `npm test`: installs what is missing and runs every check, two at a time. Each static check counts as one test. The last
 * line is `N passed, N failed`.
 *
 * `npm test -- --only unit|reference|property|browser|static|PART-OF-A-FILE-NAME` runs a part of it.
 */
import { spawn } from 'node:child_process';
import { appendFileSync, readdirSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { installPackages, installTestPackages, ROOT } from './setup.mjs';

const { values } = parseArgs({ options: { only: { type: 'string' } } });
const { only } = values;

installPackages();
installTestPackages();

const bin = (name) => `node_modules/.bin/${name}`;
const JOBS = Math.max(1, Math.min(2, availableParallelism()));

/** All that a run says stays here until the next one, since what shows a run may keep only its last lines. */
const LOG = join(tmpdir(), 'zesty-strata-test.log');
writeFileSync(LOG, '');

function say(text) {
  appendFileSync(LOG, text);
  process.stdout.write(text);
}

let passed = 0;
let failed = 0;

/** What failed, told once more at the end: a log of a run is read from its last lines, and may be cut above them. */
const failures = [];

function count(name, succeeded) {
  say(`${succeeded ? 'ok    ' : 'FAILED'} ${name}\n`);
  if (succeeded) passed += 1;
  else failed += 1;
}

/** Runs a program; resolves with its status and all it said. */
function run(command, args) {
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: ROOT,
      env: { ...process.env, NODE_NO_WARNINGS: '1' },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let output = '';
    const take = (chunk) => {
      output += chunk;
    };
    child.stdout.on('data', take);
    child.stderr.on('data', take);
    child.on('error', (error) => take(`${error.message}\n`));
    child.on('close', (status) => resolve({ status, output }));
  });
}

/** A static check: one test. */
const check = (name, command, ...args) => ({
  kind: 'static',
  name,
  run: async () => {
    const { status, output } = await run(bin(command), args);
    if (status !== 0) {
      say(output);
      failures.push(`== ${name}\n${output.trimEnd()}`);
    }
    count(name, status === 0);
  },
});

/** Tests that mocha runs in one process: what it counts; a run that counts nothing, or breaks off, is one failure. */
const suite = (kind, name, ...files) => ({
  kind,
  name,
  files,
  run: async () => {
    const began = Date.now();
    const { status, output } = await run(bin('mocha'), [
      '--no-color',
      '--reporter',
      'spec',
      ...files,
    ]);
    const told = (word) => Number(new RegExp(`^\\s*(\\d+) ${word}`, 'm').exec(output)?.[1] ?? 0);
    const passing = told('passing');
    const failing = told('failing');
    passed += passing;
    failed += failing;
    say(
      `\n== ${name} (${((Date.now() - began) / 1000).toFixed(0)} s)\n${output.replace(/^npm warn.*\n/gm, '')}`,
    );
    if (failing > 0)
      failures.push(`== ${name}\n${output.slice(output.search(/^\s*\d+ failing/m)).trimEnd()}`);
    if (passing + failing === 0 || (status !== 0 && failing === 0)) {
      failures.push(`== ${name}: it ended with status ${status}\n${output.slice(-4000).trimEnd()}`);
      count(`${name}: it ended with status ${status} after ${passing} tests`, false);
    }
  },
});

const filesOf = (folder) =>
  readdirSync(`${ROOT}/tests/${folder}`)
    .filter((name) => name.endsWith('.test.ts'))
    .sort()
    .map((name) => `tests/${folder}/${name}`);

/** Of a folder, what takes long runs by itself, the rest together. */
function suitesOf(kind, folder, alone) {
  const files = filesOf(folder);
  const long = files.filter((file) => alone.some((name) => file.includes(`/${name}.`)));
  const rest = files.filter((file) => !long.includes(file));
  return [
    ...long.map((file) => suite(kind, file, file)),
    ...(rest.length > 0 ? [suite(kind, `${folder}: the rest`, ...rest)] : []),
  ];
}

/** How long a file of the browser's takes by itself, s, roughly; the others a quarter of a minute. */
const BROWSER_SECONDS = {
  artwork: 90,
  safety: 75,
  working: 65,
  rehearse: 75,
  find: 60,
  shelf: 50,
  workbench: 40,
  rack: 45,
  heights: 40,
  zones: 40,
  tag: 40,
  sheet: 35,
  rules: 35,
  relief: 35,
  flush: 25,
  'own-gcode': 25,
};

/** The browser's files in as many parts as there are jobs, equally long: files of one part share a browser. */
function browserSuites() {
  const secondsOf = (file) => BROWSER_SECONDS[/([^/]+)\.test\.ts$/.exec(file)?.[1] ?? ''] ?? 15;
  const parts = Array.from({ length: JOBS }, () => ({ files: [], seconds: 0 }));
  for (const file of filesOf('e2e').sort((a, b) => secondsOf(b) - secondsOf(a))) {
    const shortest = parts.reduce((least, part) => (part.seconds < least.seconds ? part : least));
    shortest.files.push(file);
    shortest.seconds += secondsOf(file);
  }
  return parts.map(({ files }, i) => suite('browser', `browser, part ${i + 1}`, ...files));
}

const all = [
  ...browserSuites(),
  check('lint', 'eslint', '.', '--max-warnings', '0'),
  ...suitesOf('unit', 'unit', ['cli', 'find']),
  ...suitesOf('reference', 'reference', ['wedge', 'files']),
  ...suitesOf('property', 'property', ['core']),
  // Of pages and of every other file; that the core compiles by itself is a test of its fence.
  check('types', 'astro', 'check', '--minimumFailingSeverity', 'error'),
  check('format', 'prettier', '--check', '--log-level', 'warn', '.'),
  check(
    'fences',
    'depcruise',
    'src',
    'demo',
    '--config',
    '.dependency-cruiser.cjs',
    '--output-type',
    'err',
  ),
];

const KINDS = ['unit', 'reference', 'property', 'browser', 'static'];
let wanted = all;
if (only !== undefined)
  wanted = KINDS.includes(only)
    ? all.filter(({ kind }) => kind === only)
    : ['unit', 'reference', 'property', 'e2e']
        .flatMap(filesOf)
        .filter((file) => file.includes(only))
        .map((file) => suite(file.includes('/e2e/') ? 'browser' : 'unit', file, file));
if (wanted.length === 0) {
  process.stderr.write(
    `Nothing is called ${only}. Name ${KINDS.join(', ')} or part of a file's name.\n`,
  );
  process.exit(1);
}

// The build comes first, and is the work of one job. Browsers open it and static checks read the types that it writes; all else runs
// beside it.
const afterBuild = wanted.filter(({ kind }) => kind === 'browser' || kind === 'static');
const atOnce = wanted.filter((task) => !afterBuild.includes(task));
let built = afterBuild.length === 0;
const building = built
  ? Promise.resolve()
  : run('npm', ['run', '--silent', 'build']).then(({ status, output }) => {
      if (status !== 0) {
        say(output);
        failures.push(`== build\n${output.trimEnd()}`);
      }
      count('build', status === 0);
      built = true;
    });

const next = () => (built ? afterBuild.shift() : undefined) ?? atOnce.shift();
await Promise.all(
  Array.from({ length: JOBS }, async (_, job) => {
    if (job === 0) await building;
    while (atOnce.length + afterBuild.length > 0) {
      const task = next();
      if (task) await task.run();
      else await building;
    }
  }),
);

if (failures.length > 0) say(`\nWhat failed (all of it: ${LOG}):\n\n${failures.join('\n\n')}\n`);
say(`\n${passed} passed, ${failed} failed\n`);
process.exitCode = failed === 0 ? 0 : 1;
