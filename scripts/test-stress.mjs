/**
 * `npm run test:stress`: runs the suite again and again while other programs keep the processors busy, and says how each run
 * ended. `-- --runs 5 --busy 4 --only browser` by default runs everything five times beside four busy loops.
 */
import { spawn } from 'node:child_process';
import { parseArgs } from 'node:util';
import { ROOT } from './setup.mjs';

const { values } = parseArgs({
  options: {
    runs: { type: 'string', default: '5' },
    busy: { type: 'string', default: '4' },
    only: { type: 'string' },
  },
});

const loops = Array.from({ length: Number(values.busy) }, () =>
  spawn(process.execPath, ['-e', 'for (;;) Math.sqrt(Math.random())'], { stdio: 'ignore' }),
);
const told = [];
for (let run = 1; run <= Number(values.runs); run += 1) {
  const began = Date.now();
  let output = '';
  const args = ['scripts/test.mjs', ...(values.only ? ['--only', values.only] : [])];
  const child = spawn(process.execPath, args, { cwd: ROOT, stdio: ['ignore', 'pipe', 'inherit'] });
  child.stdout.on('data', (chunk) => {
    output += chunk;
    process.stdout.write(chunk);
  });
  await new Promise((resolve) => child.on('close', resolve));
  const last = output.trimEnd().split('\n').at(-1);
  told.push(`run ${run}: ${last}, ${((Date.now() - began) / 60_000).toFixed(1)} min`);
}
for (const loop of loops) loop.kill('SIGKILL');
process.stdout.write(`\nBeside ${values.busy} busy loops:\n${told.join('\n')}\n`);
process.exitCode = told.every((line) => line.includes(', 0 failed')) ? 0 : 1;
