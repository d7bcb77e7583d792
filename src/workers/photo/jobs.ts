import type { BytePieces } from '#core/base/byte-pieces.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import type { Result } from '#core/base/result.ts';
import type { WedgeFit, WedgeFitFault } from '#core/optics/fit-wedge.ts';
import type { PhotoReading } from '#core/optics/wedge-reading.ts';
import type { Stack } from '#core/stack/stack.ts';
import type { FilamentTable } from '#core/stack/stack-ramp.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import type { OwnGcode, OwnGcodeFault, OwnPrint } from '#core/slicing/own-gcode.ts';
import type { PhotoFault, ReadPhoto } from '#core/wedge/read-photo.ts';
import type { Quad } from '#core/wedge/straighten.ts';
import type { WedgePlan } from '#core/wedge/wedge-plan.ts';
import type { PictureFault } from '../../platform/check-picture.ts';

/** A photo of a wedge as it was taken in. */
export interface OpenedPhoto {
  readonly width: number;
  readonly height: number;
}

/** How a photo of a wedge is to be read. */
export interface WedgePhotoRequest {
  readonly corners: Quad;
  readonly plan: WedgePlan;
  readonly grounds: PhotoReading['grounds'];
  readonly date: string;
}

/** What a photo of a wedge gave. */
export interface WedgePhotoAnswer {
  readonly read: Result<ReadPhoto, PhotoFault>;
  /** Null where the photo could not be read. */
  readonly fit: Result<WedgeFit, WedgeFitFault> | null;
  /** The print looked at from above; null where the corners make no rectangle. */
  readonly straight: RgbaRaster | null;
}

/** The jobs of the worker that measures filaments: photos of wedges, and the wedges themselves. */
// eslint-disable-next-line @typescript-eslint/consistent-type-definitions
export type PhotoJobs = {
  /** Decodes a photo and keeps it for `readPhoto`. */
  openPhoto: {
    input: { readonly bytes: Uint8Array<ArrayBuffer> };
    output: Result<OpenedPhoto, PictureFault>;
  };
  readPhoto: { input: WedgePhotoRequest; output: WedgePhotoAnswer };
  /** Works a kept reading out anew. */
  refit: { input: { readonly reading: PhotoReading }; output: Result<WedgeFit, WedgeFitFault> };
  /** The files of a wedge. */
  wedgeFile: {
    input: {
      readonly format: 'stl' | '3mf';
      readonly plan: WedgePlan;
      readonly stack: Stack;
      readonly filaments: FilamentTable;
      readonly title: string;
      readonly stamp: string;
    };
    output: { readonly pieces: BytePieces };
  };
  /** A wedge as G-code of our own, with its swaps. */
  wedgeGcode: {
    input: Pick<OwnPrint, 'printer' | 'stack' | 'filaments' | 'title'> & {
      readonly plan: WedgePlan;
      readonly swaps: PrintPlan;
    };
    output: Result<OwnGcode, OwnGcodeFault>;
  };
};
