/** Bundles the thread of the server's pool into the build: threads are started from a file of their own. */
import { build } from 'esbuild';
import { ROOT } from './setup.mjs';

await build({
  entryPoints: [`${ROOT}/src/server/find-worker.ts`],
  outfile: `${ROOT}/dist/server/find-worker.mjs`,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  // Packages stay where they are installed; some bring native parts.
  packages: 'external',
  logLevel: 'warning',
});
