import { strFromU8, strToU8, unzipSync, zipSync, type Zippable } from 'fflate';
import { fail, succeed, type Fault, type Result } from '../../base/result.ts';
import { digestBytes } from '../../base/stamp.ts';
import { artworkOfRaw } from './strata-parts.ts';
import { TooMuch, unzipWithin } from './unzip-within.ts';

/**
 * The `.strata` file: a zip of `project.json` (the document), `versions.json` (named states, where there are any) and
 * `artwork.KIND` (the picture's original bytes), and `data/DIGEST` for what the documents name by the SHA-256 of its bytes. What the document means is not known here.
 */
const DOCUMENT_ENTRY = 'project.json';
const VERSIONS_ENTRY = 'versions.json';
const DATA_ENTRY = /^data\/[0-9a-f]{64}$/;
const ARTWORK_ENTRY = /^artwork\.[a-z0-9]{1,8}$/;

/** Limits of a file from elsewhere: what it unpacks to is known before anything is unpacked. */
const MOST_ENTRIES = 16;
/** Strokes in the document and in all its versions. */
const MOST_DATA_ENTRIES = 50_000;
const LONGEST_ENTRY_NAME = 100;
const DEEPEST_NESTING = 40;
/** Documents, versions and what they name together, bytes. */
const MOST_TEXT_BYTES = 64_000_000;

export type StrataFault = Fault<
  | 'not-a-project'
  | 'damaged-project'
  | 'newer-project'
  | 'artwork-missing'
  | 'project-too-large'
  | 'project-too-many-parts'
>;

/** What a `.strata` file holds, before anything is known of the document. */
export interface UnpackedStrata {
  readonly document: unknown;
  /** Undefined where there are none. */
  readonly versions: unknown;
  /** Undefined where the file lacks the picture that its document names, or holds another one. */
  readonly artwork: Uint8Array<ArrayBuffer> | undefined;
  /** What the documents name by digest, in no order. */
  readonly data: readonly Uint8Array<ArrayBuffer>[];
}

/**
 * Writes a `.strata` file.
 * @param data what the documents name, by digest
 */
export function packStrata(
  document: unknown,
  versions: unknown,
  artwork: Uint8Array | undefined,
  kind: string,
  data: ReadonlyMap<string, Uint8Array> = new Map(),
): Uint8Array<ArrayBuffer> {
  const entries: Zippable = { [DOCUMENT_ENTRY]: strToU8(JSON.stringify(document, null, 2)) };
  if (versions !== undefined) entries[VERSIONS_ENTRY] = strToU8(JSON.stringify(versions));
  // Pictures are compressed already.
  if (artwork) entries[`artwork.${kind}`] = [artwork, { level: 0 }];
  for (const [digest, bytes] of data) entries[`data/${digest}`] = bytes;
  return zipSync(entries);
}

/** Does JSON nest deeper than any project does? Found without reading it, which could exhaust the stack. */
function nestsTooDeep(text: string): boolean {
  let depth = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i += 1) {
    const sign = text.charCodeAt(i);
    if (quoted) {
      // A backslash takes the next sign along.
      if (sign === 0x5c) i += 1;
      else if (sign === 0x22) quoted = false;
    } else if (sign === 0x22) quoted = true;
    else if (sign === 0x5b || sign === 0x7b) {
      depth += 1;
      if (depth > DEEPEST_NESTING) return true;
    } else if (sign === 0x5d || sign === 0x7d) depth -= 1;
  }
  return false;
}

/**
 * Unpacks a `.strata` file. Nothing is unpacked that is not asked for, nor more than the limits, whatever the file says of
 * itself; and the picture must be the one that the document names.
 * @param mostPictureBytes largest picture
 * @param isNamed whether a picture has the digest that the document names; who has a faster way looks itself (`artworkOfRaw`)
 */
export function unpackStrata(
  bytes: Uint8Array,
  mostPictureBytes: number,
  isNamed: (artwork: Uint8Array, digest: string | undefined) => boolean = (artwork, digest) =>
    digestBytes(artwork) === digest,
): Result<UnpackedStrata, StrataFault> {
  const sizes = new Map<string, number>();
  const isData = (name: string): boolean => DATA_ENTRY.test(name);
  try {
    let entries = 0;
    let beside = 0;
    unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (isData(name)) beside += 1;
        else entries += 1;
        if (
          entries > MOST_ENTRIES ||
          beside > MOST_DATA_ENTRIES ||
          name.length > LONGEST_ENTRY_NAME
        )
          throw new TooMany();
        sizes.set(name, originalSize);
        return false;
      },
    });
  } catch (error) {
    return fail(error instanceof TooMany ? 'project-too-many-parts' : 'not-a-project');
  }
  if (!sizes.has(DOCUMENT_ENTRY)) return fail('not-a-project');
  let textBytes = 0;
  for (const [name, size] of sizes)
    if (name === DOCUMENT_ENTRY || name === VERSIONS_ENTRY || isData(name)) textBytes += size;
  if (textBytes > MOST_TEXT_BYTES) return fail('project-too-large', DOCUMENT_ENTRY);

  let document: unknown;
  let versions: unknown;
  let data: Uint8Array<ArrayBuffer>[];
  try {
    const isText = (name: string): boolean =>
      name === DOCUMENT_ENTRY || name === VERSIONS_ENTRY || isData(name);
    const texts = unzipWithin(
      bytes,
      (name) => (isText(name) ? sizes.get(name) : undefined),
      MOST_TEXT_BYTES,
    );
    const read = (name: string): unknown => {
      const entry = texts.get(name);
      if (!entry) return undefined;
      const text = strFromU8(entry);
      if (nestsTooDeep(text)) throw new Error('it nests too deep');
      return JSON.parse(text);
    };
    document = read(DOCUMENT_ENTRY);
    versions = read(VERSIONS_ENTRY);
    data = [...texts].flatMap(([name, entry]) => (isData(name) ? [entry] : []));
  } catch (error) {
    if (error instanceof TooMuch) return fail('project-too-large', error.entry);
    return fail('damaged-project', DOCUMENT_ENTRY, error instanceof Error ? error.message : '');
  }

  const { digest, kind } = artworkOfRaw(document);
  const entry = `artwork.${kind}`;
  const pictureBytes = sizes.get(entry);
  if (pictureBytes === undefined || !ARTWORK_ENTRY.test(entry))
    return succeed({ document, versions, artwork: undefined, data });
  if (pictureBytes > mostPictureBytes) return fail('project-too-large', entry);
  try {
    const artwork = unzipWithin(bytes, (name) => (name === entry ? pictureBytes : undefined)).get(
      entry,
    );
    const fits = artwork !== undefined && isNamed(artwork, digest);
    return succeed({ document, versions, artwork: fits ? artwork : undefined, data });
  } catch (error) {
    if (error instanceof TooMuch) return fail('project-too-large', entry);
    return succeed({ document, versions, artwork: undefined, data });
  }
}

class TooMany extends Error {}
