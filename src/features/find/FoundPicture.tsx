import { useEffect, useRef } from 'react';
import type { Filament } from '#core/stack/filament.ts';
import { withSuggestion } from '../../state/suggestion.ts';
import { useProject } from '../../state/project-context.ts';
import { printOf } from '../../state/print-of.ts';
import type { SuggestedStack } from '../../workers/find/jobs.ts';
import { drawRaster } from '../../ui/draw-raster.ts';
import styles from './Find.module.css';

/** Samples of a suggestion's picture: for telling them apart, and for its grams. */
const PICTURE_SAMPLES = 12_000;

/** How many samples have each height, and their side. */
export interface CountedSamples {
  readonly counts: Uint32Array;
  readonly sampleMm: number;
}

interface FoundPictureProps {
  readonly stack: SuggestedStack;
  readonly rack: readonly Filament[];
  readonly onMeasured: (counts: CountedSamples) => void;
}

/** A small picture of the print that a suggestion gives. */
export function FoundPicture({ stack, rack, onMeasured }: FoundPictureProps) {
  const { worker, documents } = useProject();
  const canvas = useRef<HTMLCanvasElement>(null);
  const measured = useRef(onMeasured);
  measured.current = onMeasured;
  useEffect(() => {
    const abort = new AbortController();
    const document = withSuggestion(documents.getState().document, stack, rack);
    printOf(worker, document, PICTURE_SAMPLES, abort.signal)
      .then(({ print, counts, sampleMm }) => {
        const element = canvas.current;
        if (abort.signal.aborted || !element) return;
        drawRaster(element, print);
        measured.current({ counts, sampleMm });
      })
      // Given up, or the project was closed meanwhile.
      .catch(() => undefined);
    return () => {
      abort.abort();
    };
  }, [stack, rack, worker, documents]);
  return (
    <canvas
      ref={canvas}
      className={styles.thumb}
      role="img"
      aria-label="The print with this stack"
      data-testid="found-picture"
    />
  );
}
