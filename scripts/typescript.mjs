/**
 * `node --import=./scripts/typescript.mjs` runs TypeScript as the modules it is written as. Tests are nearly all computing: a
 * runner that turns modules into the older kind, or keeps the name of every inner function, made them take twice as long.
 */
import { register } from 'node:module';

process.setSourceMapsEnabled(true);
// Mocha would ask for each test file with `require`, which knows no loaders of modules.
Object.defineProperty(process.features, 'require_module', { value: false });
register('./typescript-hooks.mjs', import.meta.url);
