/**
 * `npm run test:kill`: kills the browser (SIGKILL) in the middle of work again and again, and looks whether what was done more
 * than two seconds before is there each time. `-- --times 30` by default. The app must be built.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { workAndKill } from '../tests/e2e/kills.ts';

const { values } = parseArgs({ options: { times: { type: 'string', default: '30' } } });
let lost = 0;
for (let n = 0; n < Number(values.times); n += 1) {
  const profile = mkdtempSync(join(tmpdir(), 'strata-kill-'));
  try {
    const afterMs = 2500 + Math.round(4000 * Math.random());
    const { work, safe, kept, done } = await workAndKill(profile, 4400 + (n % 50), n, afterMs);
    const held = kept >= safe;
    if (!held) lost += 1;
    console.log(
      `${held ? 'kept' : 'LOST'} ${n + 1}: ${work}, killed after ${afterMs} ms; ${done} steps done, ${safe} older than 2 s, ${kept} found`,
    );
  } finally {
    rmSync(profile, { recursive: true, force: true });
  }
}
console.log(`${values.times} kills, ${lost} lost something older than 2 s`);
process.exitCode = lost === 0 ? 0 : 1;
