/** Does a file begin as a zip does? Enough to tell a project from a picture. */
export function looksLikeProject(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b;
}

/** The picture that a document says it is of. */
export function artworkOfRaw(document: unknown): {
  readonly digest: string | undefined;
  readonly kind: string;
} {
  type Raw = { artwork?: { file?: unknown } } | null;
  const slice = (document as Raw)?.artwork;
  // Until version 6 of the document the file's facts stood one step higher.
  const artwork = (slice?.file ?? slice) as { digest?: unknown; kind?: unknown } | undefined;
  return {
    digest: typeof artwork?.digest === 'string' ? artwork.digest : undefined,
    kind: typeof artwork?.kind === 'string' ? artwork.kind.slice(0, 8) : 'png',
  };
}
