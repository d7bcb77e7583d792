import { useEffect, useState } from 'react';
import type { ExportFormat } from '#core/formats/export-files.ts';
import { exportRequest } from '../../state/project-export.ts';
import { useDocument, useProject } from '../../state/project-context.ts';

/** How large a file is. */
export interface FileSize {
  readonly bytes: number;
  /** 0 where it holds none. */
  readonly triangles: number;
}

/** Rest after the last change before a file is measured, ms: it takes as long as an export. */
const REST_MS = 700;

/**
 * How large the file of the present document will be in some format; null while that is being worked out, which a change
 * or an export ends.
 */
export function useFileSize(format: ExportFormat, paused: boolean): FileSize | null {
  const { worker } = useProject();
  const document = useDocument((state) => state.document);
  const [measured, setMeasured] = useState<{ size: FileSize; of: readonly unknown[] } | null>(null);
  useEffect(() => {
    if (paused) return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      worker
        .run('size', { ...exportRequest(document), format }, abort)
        .then((size) => {
          if (!abort.signal.aborted) setMeasured({ size, of: [document, format] });
        })
        // Given up, or the project was closed meanwhile.
        .catch(() => undefined);
    }, REST_MS);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [document, worker, format, paused]);
  return measured?.of[0] === document && measured.of[1] === format ? measured.size : null;
}

/** A size in words: "319,772 triangles, 16.0 MB". */
export function sizeWords({ bytes, triangles }: FileSize): string {
  const size = bytes < 1e5 ? `${(bytes / 1e3).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
  return triangles > 0 ? `${triangles.toLocaleString('en')} triangles, ${size}` : size;
}
