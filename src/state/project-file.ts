import { z } from 'zod';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { fail, succeed, type Fault, type Result } from '#core/base/result.ts';
import { digestBytes } from '#core/base/stamp.ts';
import { MOST_PICTURE_BYTES } from '../platform/check-picture.ts';
import type { NamedVersion } from './versions.ts';
import { migrateDocument } from './migrate-document.ts';
import { SCHEMA_VERSION, type ProjectDocument } from './project-document.ts';

const DOCUMENT_ENTRY = 'project.json';
const VERSIONS_ENTRY = 'versions.json';
const MOST_DOCUMENT_BYTES = 20_000_000;

export type ProjectFileFault = Fault<
  'not-a-project' | 'damaged-project' | 'newer-project' | 'artwork-missing'
>;

/** A project with its picture: what a `.strata` file holds. */
export interface PackedProject {
  readonly document: ProjectDocument;
  readonly artwork: Uint8Array<ArrayBuffer>;
  /** States that the maker named, oldest first. */
  readonly versions?: readonly PackedVersion[];
}

/** A named state in a file; its picture is made anew. */
export type PackedVersion = Pick<NamedVersion, 'name' | 'createdAt' | 'document'>;

const versionsSchema = z.array(
  z.object({ name: z.string().min(1).max(200), createdAt: z.number(), document: z.unknown() }),
);

/** Writes a `.strata` file: a zip of the document and the artwork's original bytes. */
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
  return zipSync({
    [DOCUMENT_ENTRY]: strToU8(JSON.stringify(document, null, 2)),
    ...(named.length > 0 ? { [VERSIONS_ENTRY]: strToU8(JSON.stringify(named)) } : {}),
    // Pictures are compressed already.
    [`artwork.${document.artwork.kind}`]: [artwork, { level: 0 }],
  });
}

/** Does a file begin as a zip does? Enough to tell a project from a picture. */
export function looksLikeProject(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b;
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

/** Reads a `.strata` file and checks that the picture in it is the one the document speaks of. */
export function readProjectFile(bytes: Uint8Array): Result<PackedProject, ProjectFileFault> {
  let entries: Record<string, Uint8Array>;
  try {
    entries = unzipSync(bytes, {
      filter: ({ name, originalSize }) =>
        name === DOCUMENT_ENTRY || name === VERSIONS_ENTRY
          ? originalSize <= MOST_DOCUMENT_BYTES
          : /^artwork\.[a-z]+$/.test(name) && originalSize <= MOST_PICTURE_BYTES,
    });
  } catch {
    return fail('not-a-project');
  }
  const text = entries[DOCUMENT_ENTRY];
  if (!text) return fail('not-a-project');
  const versionsText = entries[VERSIONS_ENTRY];
  let document: ProjectDocument;
  let versions: PackedVersion[] = [];
  try {
    const data: unknown = JSON.parse(strFromU8(text));
    if (isNewer(data)) return fail('newer-project');
    document = migrateDocument(data);
    if (versionsText)
      versions = versionsSchema
        .parse(JSON.parse(strFromU8(versionsText)))
        .map((version) => ({ ...version, document: migrateDocument(version.document) }));
  } catch (error) {
    return fail(
      'damaged-project',
      DOCUMENT_ENTRY,
      error instanceof Error ? error.message.slice(0, 300) : undefined,
    );
  }
  const artwork = entries[`artwork.${document.artwork.kind}`];
  if (!artwork || digestBytes(artwork) !== document.artwork.digest) return fail('artwork-missing');
  return succeed({ document, artwork: artwork.slice(), versions });
}
