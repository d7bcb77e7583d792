import { useEffect, useState } from 'react';

/** An address for a blob as long as it is shown. */
export function useBlobUrl(blob: Blob | null): string | null {
  const [url, setUrl] = useState<string | null>(null);
  useEffect(() => {
    if (!blob) return;
    const made = URL.createObjectURL(blob);
    setUrl(made);
    return () => {
      URL.revokeObjectURL(made);
    };
  }, [blob]);
  return url;
}
