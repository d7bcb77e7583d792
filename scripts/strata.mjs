/**
 * The command line: `npm run -s strata -- VERB ...`. Its program is bundled when that is missing or older than its sources;
 * starting the bundle takes a fraction of what transpiling every source at each call took.
 */
import { existsSync, readdirSync, statSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { ROOT } from './setup.mjs';

const FOLDER = `${ROOT}/node_modules/.cache/strata`;
export const PROGRAM = `${FOLDER}/main.mjs`;

/** The latest moment at which something below a folder changed, ms. */
function latestChange(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true }))
    if (entry.isFile())
      latest = Math.max(latest, statSync(`${entry.parentPath}/${entry.name}`).mtimeMs);
  return latest;
}

/** Bundles the program unless the bundle is younger than its sources and its packages. */
export async function bundleCommandLine() {
  const made = existsSync(PROGRAM) ? statSync(PROGRAM).mtimeMs : 0;
  const packages = statSync(`${ROOT}/package-lock.json`).mtimeMs;
  if (made > Math.max(latestChange(`${ROOT}/src`), packages)) return;
  const { build } = await import('esbuild');
  await build({
    entryPoints: [`${ROOT}/src/cli/main.ts`],
    outdir: FOLDER,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    // A verb is loaded when it is called.
    splitting: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    // Packages stay where they are installed; some bring native parts.
    packages: 'external',
    logLevel: 'warning',
  });
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
  await bundleCommandLine();
  await import(pathToFileURL(PROGRAM).href);
}
