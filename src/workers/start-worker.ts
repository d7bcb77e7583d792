import type { ArtworkJobs, OpenInput } from './artwork/jobs.ts';
import { WorkerClient } from './client.ts';
import type { ExportJobs } from './export/jobs.ts';
import type { FindJobs } from './find/jobs.ts';
import type { GcodeJobs } from './gcode/jobs.ts';
import type { PhotoJobs } from './photo/jobs.ts';
import type { RehearseJobs } from './rehearse/jobs.ts';

/** How long an export worker without work is kept, ms: it holds the decoded picture a second time. */
const EXPORT_KEPT_MS = 60_000;

export type ArtworkWorker = WorkerClient<ArtworkJobs>;
export type ExportWorker = WorkerClient<ExportJobs>;

/** Starts the worker that holds one artwork. What the stage shows comes before what is told about it. */
export function startArtworkWorker(): ArtworkWorker {
  return new WorkerClient<ArtworkJobs>(
    () =>
      new Worker(new URL('./artwork/artwork.worker.ts', import.meta.url), {
        type: 'module',
        name: 'artwork',
      }),
    {
      keeps: ['open'],
      urgent: [
        'edited',
        'selection',
        'touched',
        'heights',
        'print',
        'look',
        'solid',
        'colours',
        'flatColours',
        'difference',
        'checkTag',
        'fineParts',
      ],
    },
  );
}

/** The worker for what takes long on the finished relief of an artwork: begun when it is first needed. */
export function startExportWorker(artwork: OpenInput): ExportWorker {
  return new WorkerClient<ExportJobs>(
    () =>
      new Worker(new URL('./export/export.worker.ts', import.meta.url), {
        type: 'module',
        name: 'export',
      }),
    { opening: { name: 'open', input: artwork }, idleMs: EXPORT_KEPT_MS },
  );
}

/** Starts the worker that measures filaments. */
export function startPhotoWorker(): WorkerClient<PhotoJobs> {
  return new WorkerClient<PhotoJobs>(
    () =>
      new Worker(new URL('./photo/photo.worker.ts', import.meta.url), {
        type: 'module',
        name: 'photo',
      }),
    { keeps: ['openPhoto'] },
  );
}

/** Starts a worker that looks for stacks. */
export function startFindWorker(): WorkerClient<FindJobs> {
  return new WorkerClient<FindJobs>(
    () =>
      new Worker(new URL('./find/find.worker.ts', import.meta.url), {
        type: 'module',
        name: 'find',
      }),
  );
}

/** Starts the worker that reads sliced files. What is looked at comes before what is read anew. */
export function startGcodeWorker(): WorkerClient<GcodeJobs> {
  return new WorkerClient<GcodeJobs>(
    () =>
      new Worker(new URL('./gcode/gcode.worker.ts', import.meta.url), {
        type: 'module',
        name: 'gcode',
      }),
    { keeps: ['open'], urgent: ['text', 'lines'] },
  );
}

/** Starts the worker that runs a file for the rehearsal. What is looked at comes before what is tried. */
export function startRehearseWorker(): WorkerClient<RehearseJobs> {
  return new WorkerClient<RehearseJobs>(
    () =>
      new Worker(new URL('./rehearse/rehearse.worker.ts', import.meta.url), {
        type: 'module',
        name: 'rehearse',
      }),
    { keeps: ['open'], urgent: ['picture', 'score'] },
  );
}
