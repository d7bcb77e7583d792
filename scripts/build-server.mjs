/** Bundles the server and the threads of its pools into the build: threads are started from files of their own. */
import { readdirSync, writeFileSync } from 'node:fs';
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

/**
 * What the app fetches while nobody waits, so that it is there when the server no longer is: all scripts, styles and fonts. The
 * browser keeps them, as their names change with what is in them.
 */
const parts = readdirSync(`${ROOT}/dist/client/_astro`)
  .filter((name) => /\.(js|css|woff2?)$/.test(name))
  .sort();
writeFileSync(`${ROOT}/dist/client/parts.json`, JSON.stringify(parts));
