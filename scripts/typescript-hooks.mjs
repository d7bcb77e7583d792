/** Loads `.ts`, `.tsx` and `.json` files of the project; see `typescript.mjs`. */
import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { transform } from 'esbuild';

export async function load(url, context, next) {
  if (/\.json$/.test(url) && context.importAttributes?.type !== 'json')
    return {
      format: 'module',
      source: `export default ${await readFile(fileURLToPath(url), 'utf8')}`,
      shortCircuit: true,
    };
  if (!/\.tsx?$/.test(url) || url.includes('/node_modules/')) return next(url, context);
  const path = fileURLToPath(url);
  const { code } = await transform(await readFile(path, 'utf8'), {
    loader: path.endsWith('x') ? 'tsx' : 'ts',
    format: 'esm',
    target: 'node20',
    jsx: 'automatic',
    sourcemap: 'inline',
    sourcefile: path,
  });
  return { format: 'module', source: code, shortCircuit: true };
}
