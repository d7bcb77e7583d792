import { useEffect, useState } from 'react';
import type { ExportFormat } from '#core/formats/mesh/export-files.ts';
import type { FileSize } from '#core/formats/mesh/file-sizes.ts';
import { exportRequest } from '../../state/project-export.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { useLive, useProject } from '../../state/project-context.ts';

/** Rest after the last change before a size is counted, ms. */
const REST_MS = 300;

/**
 * How large the file of a document will be in some format; null while that is being counted.
 * @param document what is shown, so that it can be counted in that
 */
export function useFileSize(
  document: ProjectDocument,
  format: ExportFormat,
  paused: boolean,
): FileSize | null {
  const { worker } = useProject();
  // It is counted in the relief that is shown.
  const shown = useLive((state) => state.request);
  const [counted, setCounted] = useState<{ size: FileSize; of: readonly unknown[] } | null>(null);
  useEffect(() => {
    if (paused || !shown) return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      worker
        .run('size', { ...exportRequest(document), shown, format }, abort)
        .then((size) => {
          if (!abort.signal.aborted) setCounted({ size, of: [document, format, shown] });
        })
        // Given up, or the project was closed meanwhile.
        .catch(() => undefined);
    }, REST_MS);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [document, worker, format, paused, shown]);
  const [ofDocument, ofFormat, ofShown] = counted?.of ?? [];
  return ofDocument === document && ofFormat === format && ofShown === shown
    ? (counted?.size ?? null)
    : null;
}

/** A size in words: "319,772 triangles, 16.0 MB". */
export function sizeWords({ bytes, triangles, exact }: FileSize): string {
  const about = exact ? '' : 'about ';
  const size = bytes < 1e5 ? `${(bytes / 1e3).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
  return triangles > 0
    ? `${triangles.toLocaleString('en')} triangles, ${about}${size}`
    : `${about}${size}`;
}
