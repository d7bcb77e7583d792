import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { FACE_PARTS, SHIPPED_FACES, takeFace } from '../faces.ts';

const { resolve } = createRequire(import.meta.url);

/** Reads the faces that ship with the app from their packages. */
export async function loadShippedFaces(): Promise<void> {
  await Promise.all(
    SHIPPED_FACES.map(async ({ id, family, fileWeight }) => {
      const [first, second] = await Promise.all(
        FACE_PARTS.map((part) =>
          readFile(
            resolve(`@fontsource/${family}/files/${family}-${part}-${fileWeight}-normal.woff`),
          ),
        ),
      );
      if (!first || !second) throw new Error(`the files of ${family} are missing`);
      const taken = takeFace(id, [first, second]);
      if (!taken.ok) throw new Error(`${family}: ${taken.fault.code}`);
    }),
  );
}
