import { z } from 'zod';
import { fail, succeed, type Result } from '#core/base/result.ts';
import {
  packStrata,
  unpackStrata,
  type StrataFault,
  type UnpackedStrata,
} from '#core/formats/project/strata-file.ts';
import { MOST_PICTURE_BYTES } from '../platform/check-picture.ts';
import { dataNamedBy, dataOf, keepData } from './kept-data.ts';
import { migrateDocument } from './migrate-document.ts';
import { SCHEMA_VERSION, type ProjectDocument } from './project-document.ts';
import { dateSchema, MOST_VERSIONS, type NamedVersion } from './versions.ts';

/** A project with its picture: what a `.strata` file holds. */
export interface PackedProject {
  readonly document: ProjectDocument;
  readonly artwork: Uint8Array<ArrayBuffer>;
  /** States that the maker named, oldest first. */
  readonly versions?: readonly PackedVersion[];
}

/** A named state in a file; its picture is made anew. */
export type PackedVersion = Pick<NamedVersion, 'name' | 'createdAt' | 'document'>;

const versionsSchema = z
  .array(
    z.object({
      name: z.string().min(1).max(200),
      // A moment that no calendar has says nothing; what was named then is as good.
      createdAt: dateSchema.catch(() => Date.now()),
      document: z.unknown(),
    }),
  )
  .max(MOST_VERSIONS);

/** Writes a `.strata` file. */
export function writeProjectFile({
  document,
  artwork,
  versions = [],
}: PackedProject): Uint8Array<ArrayBuffer> {
  const named = versions.map(({ name, createdAt, document: then }) => ({
    name,
    createdAt,
    document: then,
  }));
  const beside = new Map(
    dataNamedBy([document, ...named.map((version) => version.document)]).flatMap((digest) => {
      const bytes = dataOf(digest);
      return bytes ? [[digest, bytes] as const] : [];
    }),
  );
  return packStrata(
    document,
    named.length > 0 ? named : undefined,
    artwork,
    document.artwork.file.kind,
    beside,
  );
}

/** Was it written by a later version of the app than this one? */
function isNewer(data: unknown): boolean {
  return (
    typeof data === 'object' &&
    data !== null &&
    'schema' in data &&
    typeof data.schema === 'number' &&
    data.schema > SCHEMA_VERSION
  );
}

/** Where a document is not what it should be, in words; undefined for any other error. */
function placeOf(error: unknown): string | undefined {
  if (!(error instanceof z.ZodError)) return undefined;
  return error.issues[0]?.path.map(String).join('.') ?? undefined;
}

/** Reads what a `.strata` file was unpacked to. */
export function readUnpacked({
  document: data,
  versions: named,
  artwork,
  data: beside,
}: UnpackedStrata): Result<PackedProject, StrataFault> {
  if (isNewer(data)) return fail('newer-project');
  for (const bytes of beside) keepData(bytes);
  try {
    const document = migrateDocument(data);
    const versions = versionsSchema
      .parse(named ?? [])
      .map((version) => ({ ...version, document: migrateDocument(version.document) }));
    const lost = dataNamedBy([document, ...versions.map((version) => version.document)]).find(
      (digest) => dataOf(digest) === undefined,
    );
    if (lost !== undefined) return fail('damaged-project', `data/${lost}`, 'it is not in the file');
    return artwork ? succeed({ document, artwork, versions }) : fail('artwork-missing');
  } catch (error) {
    return fail('damaged-project', placeOf(error));
  }
}

/** Unpacks and reads a `.strata` file. */
export function readProjectFile(bytes: Uint8Array): Result<PackedProject, StrataFault> {
  const unpacked = unpackStrata(bytes, MOST_PICTURE_BYTES);
  return unpacked.ok ? readUnpacked(unpacked.value) : unpacked;
}
