/** Hands a file to the maker as a download; large ones come in pieces. */
export function downloadFile(
  name: string,
  content: BlobPart | readonly BlobPart[],
  type: string,
): void {
  const parts = Array.isArray(content) ? (content as BlobPart[]) : [content as BlobPart];
  const url = URL.createObjectURL(new Blob(parts, { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The browser has the file's data by the next turn; a minute is kind to slow disks.
  setTimeout(() => {
    URL.revokeObjectURL(url);
  }, 60_000);
}

/** A project's name as a file name that every system takes. */
export function fileStem(name: string): string {
  return (
    name
      .normalize('NFKD')
      .replace(/[\u0300-\u036f]/g, '')
      .replace(/[^A-Za-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase()
      .slice(0, 60) || 'relief'
  );
}
