import { useEffect, useRef } from 'react';
import type { LaidPixels } from '../../workers/rehearse/jobs.ts';
import { drawRaster } from '../../ui/draw-raster.ts';

/** A picture of what lies on the plate. */
export function LaidCanvas({
  pixels,
  label,
  testId,
}: {
  readonly pixels: LaidPixels | null;
  readonly label: string;
  readonly testId: string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (canvas.current && pixels) drawRaster(canvas.current, pixels);
  }, [pixels]);
  return <canvas ref={canvas} role="img" aria-label={label} data-testid={testId} />;
}
