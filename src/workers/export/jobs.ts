import type { Result } from '#core/base/result.ts';
import type { ExportFile, ExportFormat } from '#core/formats/mesh/export-files.ts';
import type { ExportRequest } from '#core/plan/export-request.ts';
import type { OwnGcode, OwnGcodeFault, OwnPrint } from '#core/slicing/own-gcode.ts';
import type { PictureFault } from '../../platform/check-picture.ts';
import type { ArtworkJobs, OpenInput } from '../artwork/jobs.ts';

/**
 * The jobs on the finished relief that take long. They have a worker of their own, with the picture in it a second time, so that
 * the stage always gets its answers at once.
 */
// eslint-disable-next-line @typescript-eslint/consistent-type-definitions
export type ExportJobs = {
  /** Decodes a picture and keeps it for the jobs that follow. */
  open: {
    input: OpenInput;
    output: Result<null, PictureFault>;
  };
  counts: ArtworkJobs['counts'];
  /** The finished relief as files; as one zip where `zip` says so, together with files that the page adds. */
  files: {
    input: ExportRequest & {
      readonly formats: readonly ExportFormat[];
      readonly zip: Readonly<Record<string, Uint8Array>> | null;
    };
    output: { readonly files: readonly ExportFile[] };
  };
  /** The finished relief as G-code of our own, with its swaps. */
  gcode: {
    input: Pick<ExportRequest, 'request' | 'stack' | 'filaments' | 'title' | 'smoothMm'> &
      Pick<OwnPrint, 'printer' | 'pieces' | 'ironing' | 'plan'>;
    output: Result<OwnGcode, OwnGcodeFault>;
  };
};
