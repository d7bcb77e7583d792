/** Bundles the server and the threads of its pools into the build: threads are started from files of their own. */
import { build } from 'esbuild';
import { ROOT } from './setup.mjs';

await build({
  entryPoints: ['serve', 'find-worker', 'rehearse-worker'].map(
    (name) => `${ROOT}/src/server/${name}.ts`,
  ),
  outdir: `${ROOT}/dist/server`,
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  // Packages stay where they are installed; some bring native parts.
  packages: 'external',
  logLevel: 'warning',
});
