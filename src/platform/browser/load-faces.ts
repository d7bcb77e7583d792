import hankenGrotesk500 from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-500-normal.woff?url';
import hankenGrotesk500Ext from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-ext-500-normal.woff?url';
import hankenGrotesk800 from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-800-normal.woff?url';
import hankenGrotesk800Ext from '@fontsource/hanken-grotesk/files/hanken-grotesk-latin-ext-800-normal.woff?url';
import zillaSlab500 from '@fontsource/zilla-slab/files/zilla-slab-latin-500-normal.woff?url';
import zillaSlab500Ext from '@fontsource/zilla-slab/files/zilla-slab-latin-ext-500-normal.woff?url';
import zillaSlab700 from '@fontsource/zilla-slab/files/zilla-slab-latin-700-normal.woff?url';
import zillaSlab700Ext from '@fontsource/zilla-slab/files/zilla-slab-latin-ext-700-normal.woff?url';
import barlowCondensed500 from '@fontsource/barlow-condensed/files/barlow-condensed-latin-500-normal.woff?url';
import barlowCondensed500Ext from '@fontsource/barlow-condensed/files/barlow-condensed-latin-ext-500-normal.woff?url';
import barlowCondensed700 from '@fontsource/barlow-condensed/files/barlow-condensed-latin-700-normal.woff?url';
import barlowCondensed700Ext from '@fontsource/barlow-condensed/files/barlow-condensed-latin-ext-700-normal.woff?url';
import fredoka500 from '@fontsource/fredoka/files/fredoka-latin-500-normal.woff?url';
import fredoka500Ext from '@fontsource/fredoka/files/fredoka-latin-ext-500-normal.woff?url';
import fredoka700 from '@fontsource/fredoka/files/fredoka-latin-700-normal.woff?url';
import fredoka700Ext from '@fontsource/fredoka/files/fredoka-latin-ext-700-normal.woff?url';
import { SHIPPED_FACES, takeFace } from '../faces.ts';

/** Where the files of each face are served. */
const URLS: Readonly<Record<string, readonly [string, string]>> = {
  hanken: [hankenGrotesk500, hankenGrotesk500Ext],
  'hanken-bold': [hankenGrotesk800, hankenGrotesk800Ext],
  zilla: [zillaSlab500, zillaSlab500Ext],
  'zilla-bold': [zillaSlab700, zillaSlab700Ext],
  barlow: [barlowCondensed500, barlowCondensed500Ext],
  'barlow-bold': [barlowCondensed700, barlowCondensed700Ext],
  fredoka: [fredoka500, fredoka500Ext],
  'fredoka-bold': [fredoka700, fredoka700Ext],
};

let loading: Promise<void> | undefined;

/** Loads the faces that ship with the app, once; a failed time is tried again. */
export function loadShippedFaces(): Promise<void> {
  loading ??= loadAll().catch((error: unknown) => {
    loading = undefined;
    throw error;
  });
  return loading;
}

async function loadAll(): Promise<void> {
  await Promise.all(
    SHIPPED_FACES.map(async ({ id, name }) => {
      const urls = URLS[id];
      if (!urls) throw new Error(`${name} is missing`);
      const [first, second] = await Promise.all(
        urls.map(async (url) => {
          const answer = await fetch(url);
          if (!answer.ok) throw new Error(`${name} could not be loaded (${answer.status})`);
          return new Uint8Array(await answer.arrayBuffer());
        }),
      );
      if (!first || !second) throw new Error(`${name} is missing`);
      const taken = takeFace(id, [first, second]);
      if (!taken.ok) throw new Error(`${name}: ${taken.fault.code}`);
    }),
  );
}
